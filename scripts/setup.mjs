// npm run setup: packages from the lockfile, the kernels, and the command line. Needs nothing but Node; safe to repeat.
import { buildEmptyDatabase, buildKernels, buildPrograms } from "./build.mjs";
import { fail, run, whenStale } from "./lib.mjs";

export function setup() {
  const major = Number(process.versions.node.split(".")[0]);
  if (major < 20) fail(`Pale Halo needs Node.js 20 or newer; this is ${process.version}.`);
  whenStale("packages", ["package-lock.json"], ["node_modules/.package-lock.json"], () => {
    console.error("Installing packages from the lockfile …");
    run("npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"]);
  });
  buildKernels();
  buildPrograms();
  buildEmptyDatabase();
}

if (process.argv[1]?.endsWith("setup.mjs")) {
  setup();
  console.error("Ready. bin/halo works; npm run demo serves the application.");
}
