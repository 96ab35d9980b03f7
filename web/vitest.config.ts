import { defineConfig } from "vitest/config";

// biome-ignore lint/style/noDefaultExport: the configuration's own convention
export default defineConfig({
  test: {
    include: ["src/**/*.test.ts", "src/**/*.test.tsx"],
    environment: "node",
    setupFiles: ["./src/testSetup.ts"],
    pool: "threads",
  },
});
