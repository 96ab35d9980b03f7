import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, loadEnv } from "vite";

// biome-ignore lint/style/noDefaultExport: the configuration's own convention
export default defineConfig(({ command, mode }) => ({
  base: command === "build" ? "/static/" : "/",
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, target: "es2023", chunkSizeWarningLimit: 900 },
  // ../dev serves the interface from here, and the API from Django behind it.
  server: {
    host: "127.0.0.1",
    strictPort: true,
    proxy: { "/api": { target: loadEnv(mode, ".", "HERON_").HERON_API ?? "" } },
  },
}));
