import { readFileSync } from "node:fs";
import { Worker } from "node:worker_threads";
import { Engine } from "../../core/engine/engine";
import { createMemory } from "../../core/engine/module";
import { CONTROL_BYTES, Team, type HelperStart } from "../../core/engine/team";
import { built } from "../../formats/project";

export interface NodeEngine {
  engine: Engine;
  close(): void;
}

/** Bytes of steps' results kept between frames: none, since a render never comes back to one. */
const DEFAULT_BUDGET = 0;

/** An engine on `threads` threads, this one among them: it blocks while a frame is made. */
export function startEngine(threads: number, budget = DEFAULT_BUDGET): NodeEngine {
  const module = new WebAssembly.Module(readFileSync(built("kernels.wasm")));
  const memory = createMemory();
  const control = new SharedArrayBuffer(CONTROL_BYTES);
  const helpers = Array.from({ length: threads - 1 }, (_, i) => {
    const workerData: HelperStart = { module, memory, control, member: i + 1 };
    const worker = new Worker(built("engine-helper.mjs"), { workerData });
    worker.unref();
    return worker;
  });
  const team = new Team(module, memory, control, helpers.length);
  return { engine: new Engine(memory, team, budget), close: () => team.dismiss() };
}
