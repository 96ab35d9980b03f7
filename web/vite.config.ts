import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// biome-ignore lint/style/noDefaultExport: the configuration's own convention
export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/" : "/",
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, target: "es2023", chunkSizeWarningLimit: 900 },
  // ../dev serves the interface from here, and the API from Django behind it.
  server: { host: "127.0.0.1", strictPort: true, proxy: { "/api": { target: process.env.HERON_API ?? "" } } },
}));
