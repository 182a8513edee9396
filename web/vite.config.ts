import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 2500, target: "es2022" },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
  test: {
    environment: "jsdom",
    setupFiles: ["src/testing/setup.ts"],
    include: ["src/**/*.test.ts", "src/**/*.test.tsx"],
    // On a busy machine a test may wait its turn for long: none fails for that.
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});
