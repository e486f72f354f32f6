/// <reference types="vitest/config" />
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
  build: { target: "es2022", manifest: true },
  // One worker, one jsdom for all files: starting one costs more than the tests.
  test: {
    environment: "jsdom",
    setupFiles: "src/test/setup.ts",
    include: ["src/**/*.test.{ts,tsx}"],
    isolate: false,
    maxWorkers: 1,
  },
});
