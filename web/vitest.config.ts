import { defineConfig } from "vitest/config";

// biome-ignore lint/style/noDefaultExport: the configuration's own convention
export default defineConfig({
  // A test is not timed: on a busy machine each may take long.
  test: {
    include: ["src/**/*.test.ts", "src/**/*.test.tsx"],
    environment: "node",
    setupFiles: ["./src/testSetup.ts"],
    pool: "threads",
    testTimeout: 300_000,
  },
});
