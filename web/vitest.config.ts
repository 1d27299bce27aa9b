import { defineConfig } from "vitest/config";

export default defineConfig({
  test: { include: ["tests/**/*.test.{ts,tsx}"], environment: "node", setupFiles: ["tests/browser.ts"] },
});
