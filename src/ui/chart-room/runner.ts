/** Measures what waits, one after another, in a thread that is ended to stop it. */
import { relabelled, type ReadingOrder } from "@/core/measure/readings";
import type { MeasureOrder, MeasureReport } from "./messages";
import { create } from "zustand";
import { addressOf, lackOf, type Measurement, UNREAD, useSession } from "./session";

/** Pictures that were shown, by their addresses: the newest ones stay. */
const MAX_PICTURES = 16;
interface Shown {
  pictures: ReadonlyMap<string, ImageBitmap>;
}
export const useShown = create<Shown>(() => ({ pictures: new Map() }));

function remember(address: string, bitmap: ImageBitmap): void {
  const pictures = new Map(useShown.getState().pictures);
  pictures.delete(address);
  pictures.set(address, bitmap);
  for (const old of [...pictures.keys()].slice(0, -MAX_PICTURES)) {
    pictures.get(old)!.close();
    pictures.delete(old);
  }
  useShown.setState({ pictures });
}

let running: { id: string; worker: Worker } | null = null;

function end(): void {
  running?.worker.terminate();
  running = null;
}

const orderFor = (one: Measurement): MeasureOrder => ({
  pictures: one.pictures.map((picture) => ({ address: addressOf(picture), name: picture.name })),
  sensor: useSession.getState().head.sensor,
  region: one.region,
  reading: lackOf(one) === null ? one.order : null,
});

/** Begins what waits, if nothing is being measured; what is lacking a frame is only shown. */
export function measureNext(): void {
  if (running) return;
  const { measurements, chosen, change } = useSession.getState();
  const waiting = measurements.filter(({ state, pictures }) => state === "waiting" && pictures.length > 0);
  const one = waiting.find(({ id }) => id === chosen) ?? waiting[0];
  if (!one) return;
  const worker = new Worker("/engine/measure.js");
  running = { id: one.id, worker };
  change(one.id, { state: "measuring", share: 0, step: "reading" });
  const finish = (result: Partial<Measurement>) => {
    end();
    change(one.id, { step: "", share: 0, ...result });
    measureNext();
  };
  worker.addEventListener("message", ({ data }: MessageEvent<MeasureReport>) => {
    if (data.kind === "picture") remember(data.address, data.bitmap);
    else if (data.kind === "progress") change(one.id, { share: data.share, step: data.step });
    else if (data.kind === "refused") finish({ state: "refused", reason: data.reason, reading: null });
    else if (data.reading) finish({ state: "done", reading: data.reading, reason: null });
    else finish({ state: "refused", reason: lackOf(one), reading: null });
  });
  worker.addEventListener("error", ({ message }) =>
    finish({ state: "refused", reason: message || "the thread that measures failed", reading: null }),
  );
  worker.postMessage(orderFor(one));
}

/** Stops a measurement; it stays as it is until it is begun again. */
export function stopMeasuring(id: string): void {
  if (running?.id !== id) return;
  end();
  useSession.getState().change(id, { ...UNREAD, state: "refused", reason: "was stopped" });
  measureNext();
}

/** Measures one again. */
export function measureAgain(id: string, change: Partial<Measurement> = {}): void {
  if (running?.id === id) end();
  useSession.getState().change(id, { ...change, ...UNREAD });
  measureNext();
}

/** Measures everything again: what all frames were shot on has changed. */
export function measureAll(): void {
  end();
  const { measurements, change } = useSession.getState();
  for (const { id } of measurements) change(id, UNREAD);
  measureNext();
}

/** Says that something else was shot: what was read is only named anew where that is enough. */
export function changeOrder({ id, reading, state }: Measurement, order: ReadingOrder): void {
  const named = state === "done" && reading ? relabelled(reading, order) : null;
  if (named) useSession.getState().change(id, { order, reading: named });
  else measureAgain(id, { order, ...(order.kind === reading?.kind ? {} : { leftOut: [] }) });
}

/** Takes a measurement out. */
export function removeMeasurement(id: string): void {
  if (running?.id === id) end();
  useSession.getState().remove(id);
  measureNext();
}

/** Ends whatever runs: the view is left. What was being measured begins again when it is opened. */
export function leaveMeasuring(): void {
  const id = running?.id;
  end();
  if (id) useSession.getState().change(id, UNREAD);
}
