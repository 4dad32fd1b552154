import "../../shared/no-eval";
import { Engine } from "../../../core/engine/engine";
import { createMemory } from "../../../core/engine/module";
import { CONTROL_BYTES, type HelperStart, Team } from "../../../core/engine/team";
import { fetchFrame } from "../fetch-frame";
import { createHost } from "./host";
import type { ToHost } from "../messages";

/** The engine's host as a web worker, with helpers as workers of its own. */

/** Bytes of steps' results kept, so that a control recomputes from its element onward. */
const STEP_CACHE_BYTES = 640 * 2 ** 20;

async function startEngine(helpers: number): Promise<Engine> {
  const module = await WebAssembly.compileStreaming(fetch("/engine/kernels.wasm"));
  const memory = createMemory();
  const control = new SharedArrayBuffer(CONTROL_BYTES);
  const ready = Array.from({ length: helpers }, (_, i) => {
    const worker = new Worker("/engine/helper.js");
    worker.postMessage({ module, memory, control, member: i + 1 } satisfies HelperStart);
    return new Promise((resolve) => worker.addEventListener("message", resolve, { once: true }));
  });
  await Promise.all(ready);
  return new Engine(memory, new Team(module, memory, control, helpers), STEP_CACHE_BYTES);
}

const host = createHost({ startEngine, fetchFrame, send: (message, transfer) => postMessage(message, { transfer }) });
addEventListener("message", (event: MessageEvent<ToHost>) => host.hear(event.data));
