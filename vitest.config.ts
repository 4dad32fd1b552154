import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { alias: { "@": fileURLToPath(new URL("src", import.meta.url)) } },
  test: {
    include: ["src/**/*.test.ts"],
    testTimeout: 60_000,
    // A database takes a while to open beside everything else.
    hookTimeout: 60_000,
    maxWorkers: availableParallelism(),
    reporters: ["default"],
  },
});
