import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// biome-ignore lint/style/noDefaultExport: the configuration's own convention
export default defineConfig({
  base: "/static/",
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, target: "es2023", chunkSizeWarningLimit: 900 },
});
