import { LRUCache } from "lru-cache";
import { Superseded } from "../../../core/engine/engine";
import { middleOfShape, OWN_ENCODING } from "../../../core/frame/plate";
import type { PlateRequest } from "../../../core/engine/plan";
import type { Frame } from "../../../core/image/image";
import { NO_OVERSCAN } from "../../../core/image/overscan";
import type { FetchedFrame, FetchFrame } from "../fetch-frame";
import type { FrameOrder } from "../questions";

/** Frames kept, bytes: enough to play a short shot again, and to step back and forth. */
const MAX_BYTES = 512 * 2 ** 20;
/** What of a frame is fetched. */
export type Plane = "light" | "depth";

interface Extent {
  width: number;
  height: number;
}
/** Changes a frame's size by area; the key names its pixels. */
export type Resize = (frame: Frame, size: Extent, key: string) => Frame;

interface InFlight {
  frame: Promise<FetchedFrame>;
  /** Questions that wait for it. */
  waiting: number;
  isPrefetch: boolean;
  abort: AbortController;
}

export const sourceKey = ({ shotId, encoding, divide, still }: FrameOrder, frame: number, plane: Plane): string =>
  [shotId, encoding, frame, divide, plane, ...(still === undefined ? [] : ["still", still])].join(" ");

const addressOf = ({ shotId, divide }: FrameOrder, frame: number, plane: Plane) =>
  `/api/shots/${encodeURIComponent(shotId)}/frames/${frame}?divide=${divide}&plane=${plane}&overscan=yes`;

/**
 * The frames that questions are about: fetched once however many ask, kept while there is room, and fetched ahead. What
 * nobody waits for any more is given up as soon as something else is fetched.
 */
export function createSources(fetchFrame: FetchFrame, resize: Resize) {
  const cache = new LRUCache<string, FetchedFrame>({
    maxSize: MAX_BYTES,
    sizeCalculation: ({ data }) => data.byteLength,
  });
  const inFlight = new Map<string, InFlight>();
  let ahead: FrameOrder[] = [];
  let aheadAtOnce = 1;

  const begin = (key: string, fetched: (signal: AbortSignal) => Promise<FetchedFrame>, isPrefetch: boolean) => {
    const abort = new AbortController();
    const frame = fetched(abort.signal).then((made) => {
      cache.set(key, made);
      return made;
    });
    const entry: InFlight = { frame, waiting: 0, isPrefetch, abort };
    inFlight.set(key, entry);
    const end = () => {
      if (inFlight.get(key) === entry) inFlight.delete(key);
    };
    frame.then(end, end);
    return entry;
  };

  const fitted = (whole: FetchedFrame, size: Extent, key: string): FetchedFrame => {
    if (whole.width === size.width && whole.height === size.height) return whole;
    const made = resize(middleOfShape(whole, size.width, size.height), size, key);
    return { ...made, overscan: NO_OVERSCAN, hasDepth: false, cleaned: whole.cleaned };
  };

  const giveUpUnwanted = () => {
    for (const [key, { waiting, isPrefetch, abort }] of inFlight) {
      if (waiting || isPrefetch) continue;
      inFlight.delete(key);
      abort.abort();
    }
  };

  /** What is kept under a key, or else is fetched and kept. Throws Superseded as soon as the signal says so. */
  async function cached(
    key: string,
    signal: AbortSignal,
    fetched: (signal: AbortSignal) => Promise<FetchedFrame>,
  ): Promise<FetchedFrame> {
    const found = cache.get(key);
    if (found) return found;
    const entry = inFlight.get(key) ?? begin(key, fetched, false);
    entry.waiting++;
    giveUpUnwanted();
    let leave = () => {};
    const left = new Promise<never>((_, reject) => {
      leave = () => reject(new Superseded());
      if (signal.aborted) leave();
      else signal.addEventListener("abort", leave);
    });
    try {
      return await Promise.race([entry.frame, left]);
    } finally {
      entry.waiting--;
      signal.removeEventListener("abort", leave);
    }
  }

  /** A frame of the shot in working light, or its depth, as it is without a still. */
  const frame = (order: FrameOrder, signal: AbortSignal, number = order.frame, plane: Plane = "light") =>
    cached(sourceKey({ ...order, still: undefined }, number, plane), signal, (gone) =>
      fetchFrame(addressOf(order, number, plane), gone),
    );

  /** A still, as large as the frame whose place it takes. */
  async function still(order: FrameOrder, id: number, signal: AbortSignal): Promise<FetchedFrame> {
    const { width, height } = await frame(order, signal);
    const key = `still ${id} ${order.divide} ${width} ${height}`;
    return cached(key, signal, async (gone) =>
      fitted(await fetchFrame(`/api/stills/${id}/light?divide=${order.divide}`, gone), { width, height }, key),
    );
  }

  /** A frame of other footage, cut and scaled to a size. */
  function plate(
    order: FrameOrder,
    { footage, encoding, ends, index }: PlateRequest,
    size: Extent,
    signal: AbortSignal,
  ): Promise<FetchedFrame> {
    const query = new URLSearchParams({
      index: String(index),
      ends,
      divide: String(order.divide),
      ...(encoding === OWN_ENCODING ? {} : { encoding }),
    });
    const key = [footage, encoding, ends, index, order.divide, size.width, size.height, order.plates].join(" ");
    return cached(key, signal, async (gone) =>
      fitted(await fetchFrame(`/api/shots/${encodeURIComponent(footage)}/plate?${query}`, gone), size, key),
    );
  }

  function fetchAhead(): void {
    const under = () => [...inFlight.values()].filter(({ isPrefetch }) => isPrefetch).length;
    while (under() < aheadAtOnce && ahead.length) {
      const order = ahead.shift()!;
      const key = sourceKey(order, order.frame, "light");
      if (cache.has(key) || inFlight.has(key)) continue;
      // One that does not come is told of when it is asked for.
      begin(key, (gone) => fetchFrame(addressOf(order, order.frame, "light"), gone), true)
        .frame.catch(() => {})
        .finally(fetchAhead);
    }
  }

  /**
   * Fetches frames ahead of their time, the first ones first, so many at once; others that were to come are not fetched
   * any more.
   */
  function prefetch(orders: FrameOrder[], atOnce: number): void {
    ahead = orders;
    aheadAtOnce = atOnce;
    const wanted = new Set(orders.map((order) => sourceKey(order, order.frame, "light")));
    for (const [key, entry] of inFlight) if (!wanted.has(key)) entry.isPrefetch = false;
    giveUpUnwanted();
    fetchAhead();
  }

  return { frame, still, plate, prefetch };
}
export type Sources = ReturnType<typeof createSources>;
