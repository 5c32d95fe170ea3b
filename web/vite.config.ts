import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: {
    outDir: "../src/flinz/server/page",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
  },
  css: { preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] } } },
  // One world for all tests: to set up a fresh one for each file takes six times as long.
  test: {
    environment: "jsdom",
    isolate: false,
    include: ["src/**/*.test.{ts,tsx}"],
    setupFiles: ["patience.ts"],
    testTimeout: 150_000,
    hookTimeout: 150_000,
  },
});
