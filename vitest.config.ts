import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const CORE = ["src/core/**/*.test.ts", "src/demo/**/*.test.ts", "src/testing/**/*.test.ts"];
const shared = {
  testTimeout: 60_000,
  // A database takes a while to open beside everything else.
  hookTimeout: 60_000,
};

export default defineConfig({
  resolve: { alias: { "@": fileURLToPath(new URL("src", import.meta.url)) } },
  test: {
    maxWorkers: availableParallelism(),
    reporters: ["default"],
    projects: [
      // What is computation alone has no state of its own: its files share their modules, which are read once.
      { extends: true, test: { name: "core", include: CORE, isolate: false, ...shared } },
      { extends: true, test: { name: "rest", include: ["src/**/*.test.ts"], exclude: CORE, ...shared } },
    ],
  },
});
