import "../shared/no-eval";
import { chartOf } from "@/core/measure/chart";
import { MeasureError } from "@/core/measure/plane";
import { readingOf } from "@/core/measure/readings";
import { displayCodes } from "./display";
import { fetchFrame, FetchProblem, type FetchedFrame } from "../engine/fetch-frame";
import type { MeasureOrder, MeasureReport } from "./messages";

/** Measures pictures of charts, in a thread of its own; ended by ending the thread. */

/** Ended by ending the thread. */
const UNENDED = new AbortController().signal;

const send = (report: MeasureReport, transfer: Transferable[] = []) => postMessage(report, { transfer });

async function show(address: string, { width, height, data }: FetchedFrame): Promise<void> {
  const codes = displayCodes(data, width * height);
  const bitmap = await createImageBitmap(new ImageData(codes, width, height));
  send({ kind: "picture", address, width, height, bitmap }, [bitmap]);
}

async function measure({ pictures, sensor, region, reading }: MeasureOrder): Promise<void> {
  const frames: FetchedFrame[] = [];
  for (const { address, name } of pictures) {
    send({ kind: "progress", share: 0, step: `reading ${name}` });
    const frame = await fetchFrame(address, UNENDED);
    await show(address, frame);
    frames.push(frame);
  }
  if (!reading) return send({ kind: "done", reading: null });
  const charts = frames.map((frame) => chartOf(frame, sensor, region ?? undefined));
  send({ kind: "progress", share: 0, step: "measuring" });
  const tell = (share: number) => send({ kind: "progress", share, step: "measuring" });
  send({ kind: "done", reading: readingOf(reading, charts, tell) });
}

addEventListener("message", ({ data }: MessageEvent<MeasureOrder>) => {
  measure(data).catch((error: unknown) => {
    if (!(error instanceof MeasureError || error instanceof FetchProblem)) console.error(error);
    send({ kind: "refused", reason: (error as Error).message });
  });
});
