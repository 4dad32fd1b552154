import { existsSync } from "node:fs";
import { cleanedText } from "../core/image/clean";
import { countOf, framesIn } from "../core/frame/ranges";
import { startEngine } from "../server/engine/engine";
import { fileOf, isSequence } from "../server/footage/sequence";
import type { RenderJob } from "../server/render/job";
import { renderFrames } from "../server/render/render";
import type { FrameOptions } from "./frames";
import { checkedAlone, openFootage, orderFor, type OwnJob, tellComplaint } from "./order";

/** Tells on standard error how frames fare, and counts them. */
function reporter(count: number) {
  const told = { done: 0, skipped: 0, failed: [] as { frame: number; reason: string }[] };
  const hears: Parameters<typeof renderFrames>[2] = {
    done(number, { skipped: wasThere }) {
      told.done++;
      if (wasThere) told.skipped++;
      console.error(`frame ${number} ${wasThere ? "is there already" : "done"} (${told.done} of ${count})`);
    },
    cleaned(number, found) {
      const text = cleanedText(found);
      if (text) console.error(`frame ${number}: ${text}`);
    },
    failed(frame, reason) {
      told.failed.push({ frame, reason });
      console.error(`frame ${frame} failed: ${reason}`);
    },
  };
  return { told, hears };
}

/** What a job would write, as JSON; nothing is written. */
function tellPlanned({ frames, output, depth, compression }: RenderJob, out: string, losses: readonly string[]): void {
  const numbers = [...framesIn(frames)];
  const files = isSequence(output) ? [...new Set(numbers.map((number) => fileOf(output, number)))] : [out];
  console.log(
    JSON.stringify({
      ...{ dryRun: true, frames: numbers.length, files: files.length, first: files[0], last: files.at(-1) },
      ...{ there: files.filter((file) => existsSync(file)).length, depth, compression, losses },
    }),
  );
}

/** Renders a job's frames, telling how they fare and what does not go on, and prints what was done at the end. */
export async function performJob(
  order: RenderJob,
  losses: string[],
  { out, threads, dryRun }: { out: string; threads: number; dryRun?: boolean },
): Promise<void> {
  const { frames } = order;
  if (losses.length) console.error(`not carried on: ${losses.join("; ")}`);
  if (dryRun) return tellPlanned(order, out, losses);
  const { engine, close } = startEngine(threads);
  const { told, hears } = reporter(countOf(frames));
  const start = performance.now();
  const { isWhole } = await renderFrames(engine, order, hears);
  close();
  if (order.sink?.ledger === false && !isWhole) {
    console.error(`${out} was not written: it would lack ${told.failed.length} of its ${countOf(frames)} frames`);
    told.done = 0;
  }
  tellResult(told, (performance.now() - start) / 1000, losses);
}

function tellResult(
  { done, skipped, failed }: ReturnType<typeof reporter>["told"],
  seconds: number,
  losses: readonly string[],
): void {
  const fps = Number(((done - skipped) / seconds).toFixed(2));
  console.log(JSON.stringify({ frames: done, seconds: Number(seconds.toFixed(2)), fps, skipped, failed, losses }));
  if (failed.length) process.exitCode = 1;
}

/** Runs frames through a job and prints what was done; the exit code is 1 where any frame failed. */
export async function runFrames(options: FrameOptions, own: OwnJob): Promise<void> {
  const checked = checkedAlone(options);
  const source = openFootage(options.in);
  try {
    const { order, losses } = await orderFor(options, own, checked, source);
    await performJob(order, losses, options);
  } finally {
    tellComplaint(options.in, source);
  }
}
