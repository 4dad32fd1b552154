/** What is being measured: frames, what each shows, what was read of them. It stays in this browser until it is cleared. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Region } from "@/core/measure/chart";
import { filesOf, type Manifest } from "@/core/measure/manifest";
import { MeasureError } from "@/core/measure/plane";
import { PICTURES, type Reading, type ReadingKind, type ReadingOrder, withoutEdges } from "@/core/measure/readings";
import { guessOf } from "./guess";

/** A frame of a chart: a file that was sent, or a frame of a shot. */
export interface ChartPicture {
  name: string;
  source: { kind: "sent"; batch: string; path: string } | { kind: "shot"; shotId: string; frame: number };
  /** px */
  width: number;
  height: number;
  encoding: string;
}

/** One reading of one or two frames. */
export interface Measurement {
  id: string;
  order: ReadingOrder;
  pictures: ChartPicture[];
  region: Region | null;
  /** Edges that were taken out: their middles, px of the region. */
  leftOut: (readonly [number, number])[];
  state: "waiting" | "measuring" | "done" | "refused";
  /** While it is measured: what is being done, and how much of it, 0 to 1. */
  step: string;
  share: number;
  /** Why it was refused. */
  reason: string | null;
  /** Of all that was found. */
  reading: Reading | null;
}

/** What the profile is called, and what all frames were shot on. */
export interface SessionHead {
  name: string;
  set: string;
  by: string;
  squeeze: number;
  /** mm; 0 where it is not known. */
  imageCircle: number;
  /** mm */
  sensor: { width: number; height: number };
}

interface Session {
  head: SessionHead;
  measurements: Measurement[];
  chosen: string | null;
  setHead(change: Partial<SessionHead>): void;
  choose(id: string): void;
  add(measurements: Measurement[]): void;
  change(id: string, change: Partial<Measurement>): void;
  remove(id: string): void;
  clear(): void;
}

const EMPTY: SessionHead = {
  name: "",
  set: "",
  by: "",
  squeeze: 1,
  imageCircle: 0,
  sensor: { width: 24.9, height: 14 },
};

export const useSession = create<Session>()(
  persist(
    (set) => ({
      head: EMPTY,
      measurements: [],
      chosen: null,
      setHead: (change) => set(({ head }) => ({ head: { ...head, ...change } })),
      choose: (chosen) => set({ chosen }),
      add: (more) =>
        set(({ measurements, chosen }) => ({
          measurements: [...measurements, ...more],
          chosen: chosen ?? more[0]?.id ?? null,
        })),
      change: (id, change) =>
        set(({ measurements }) => ({
          measurements: measurements.map((one) => (one.id === id ? { ...one, ...change } : one)),
        })),
      remove: (id) =>
        set(({ measurements, chosen }) => {
          const rest = measurements.filter((one) => one.id !== id);
          return { measurements: rest, chosen: chosen === id ? (rest[0]?.id ?? null) : chosen };
        }),
      clear: () => set({ measurements: [], chosen: null, head: EMPTY }),
    }),
    {
      name: "chart-room",
      version: 1,
      skipHydration: true,
      // What was read is read again: it is large, and its frames are still there.
      partialize: ({ head, measurements, chosen }) => ({
        head,
        chosen,
        measurements: measurements.map((one) => ({ ...one, ...UNREAD })),
      }),
    },
  ),
);

/** A measurement whose frames are still to be read. */
export const UNREAD = { state: "waiting", step: "", share: 0, reason: null, reading: null } as const;

/** Where the light of a picture is had. */
export const addressOf = ({ source, encoding }: ChartPicture): string =>
  source.kind === "sent"
    ? `/api/charts/${source.batch}?file=${encodeURIComponent(source.path)}&encoding=${encodeURIComponent(encoding)}`
    : `/api/shots/${encodeURIComponent(source.shotId)}/frames/${source.frame}?divide=1&plane=light&encoding=${encodeURIComponent(encoding)}`;

/** What was read without what was taken out; null where nothing is left. */
export function readingShown({ reading, leftOut }: Measurement): Reading | null {
  if (reading?.kind !== "edges" || !leftOut.length) return reading;
  try {
    return withoutEdges(reading, leftOut);
  } catch (error) {
    if (error instanceof MeasureError) return null;
    throw error;
  }
}

/** What is lacking before a measurement can begin, in words; null where nothing is. */
export const lackOf = ({ order: { kind }, pictures }: Measurement): string | null =>
  pictures.length < PICTURES[kind].least ? `needs a frame ${PICTURES[kind].names[pictures.length]}` : null;

const KIND_DEFAULT: ReadingKind = "edges";

/** An order of another kind, with what the two have in common. */
export function orderOf(
  kind: ReadingKind,
  { focalLength, stop, grade }: { focalLength: number; stop: number; grade: string },
): ReadingOrder {
  if (kind === "grid") return { kind, focalLength };
  if (kind === "pair") return { kind, focalLength, grade };
  if (kind === "point" || kind === "transmission") return { kind, focalLength };
  return { kind, focalLength, stop };
}

/** What orders have in common, from the last one there is. */
export function commonOf(orders: readonly ReadingOrder[]) {
  const last = <K extends string>(name: K) =>
    orders.findLast((order): order is ReadingOrder & Record<K, never> => name in order)?.[name] as unknown;
  return {
    focalLength: (last("focalLength") as number | undefined) ?? 50,
    stop: (last("stop") as number | undefined) ?? 2.8,
    grade: (last("grade") as string | undefined) ?? "1",
  };
}

const measurement = (order: ReadingOrder, pictures: ChartPicture[]): Measurement => ({
  id: crypto.randomUUID(),
  order,
  pictures,
  region: null,
  leftOut: [],
  ...UNREAD,
});

/**
 * Measurements of frames, by what their names say: a field shot twice and a scene without and with a filter go together.
 */
export function measurementsOf(pictures: readonly ChartPicture[], before: readonly Measurement[]): Measurement[] {
  const common = commonOf(before.map(({ order }) => order));
  const guessed = pictures.map((picture) => {
    const { kind = KIND_DEFAULT, second = false, ...said } = guessOf(picture.name);
    return { picture, kind, second, order: orderOf(kind, { ...common, ...said }) };
  });
  const same = (a: ReadingOrder, b: ReadingOrder) => JSON.stringify(a) === JSON.stringify(b);
  const isPaired = (kind: ReadingKind) =>
    PICTURES[kind].least === 2 && guessed.some((one) => one.kind === kind && one.second);
  return guessed.flatMap(({ picture, kind, second, order }) => {
    const without = guessed.find((one) => one.kind === kind && !one.second)?.picture;
    if (isPaired(kind)) return second ? [measurement(order, without ? [without, picture] : [picture])] : [];
    if (kind === "flat") {
      const other = guessed.find((one) => one.kind === "flat" && one.second !== second && same(one.order, order));
      if (other && second) return [];
      return [measurement(order, other ? [picture, other.picture] : [picture])];
    }
    return [measurement(order, [picture])];
  });
}

/** What a kind of frame that does not say it does not use. */
const OTHER_TERMS = { stop: 1, grade: "1" };

/** Measurements as a manifest lists them; `pictureOf`: the frame of a file's name. */
export const measurementsIn = (
  { frames }: Manifest,
  pictureOf: (file: string) => ChartPicture | undefined,
): Measurement[] =>
  frames.flatMap((frame) => {
    const files = filesOf(frame);
    const pictures = files.map(pictureOf).filter((picture) => picture !== undefined);
    if (pictures.length < files.length) return [];
    const order: ReadingOrder = {
      ...orderOf(frame.kind, { ...OTHER_TERMS, ...frame }),
      ...(frame.kind === "grid" && frame.model ? { model: frame.model } : {}),
    };
    const region = "region" in frame ? (frame.region ?? null) : null;
    return [{ ...measurement(order, pictures), region }];
  });
