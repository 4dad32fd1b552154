// npm run hold [-- kill|flood|disk|soak|bodies [number]]: the long trials of docs/reliability.md. All of them where
// none is named.
import { buildApplication } from "./build.mjs";
import { fail } from "./lib.mjs";
import { setup } from "./setup.mjs";

const TRIALS = {
  bodies: async () => (await import("./hold/bodies.mjs")).bodies,
  flood: async () => (await import("./hold/flood.mjs")).flood,
  disk: async () => (await import("./hold/disk.mjs")).disk,
  kill: async () => (await import("./hold/kill.mjs")).kill,
  soak: async () => (await import("./hold/soak.mjs")).soak,
};

const [named, number] = process.argv.slice(2);
if (named && !TRIALS[named]) fail(`There is no trial “${named}”; there are ${Object.keys(TRIALS).join(", ")}.`);
setup();
buildApplication();
let missed = 0;
for (const name of named ? [named] : Object.keys(TRIALS)) {
  console.error(`\n${name}`);
  const trial = await TRIALS[name]();
  const { report, met } = await trial(...(number ? [Number(number)] : []));
  console.log(JSON.stringify({ trial: name, met, ...report }));
  if (!met) missed++;
}
process.exit(missed ? 1 : 0);
