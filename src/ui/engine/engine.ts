"use client";
import { useCallback, useEffect, useRef } from "react";
import type { Transform } from "@/core/colour/transform/transform";
import type { HighlightKey } from "@/core/elements/definition";
import type { ScopesOutput } from "@/core/compile/outputs/scopes";
import type { ScopeCounts } from "@/core/scopes/count";
import type { Judged } from "@/core/judge/judge";
import type { Profile } from "@/core/profile/profiles";
import type { FrameOrder, FromHost, PRIORITY, Ramp, ToHost } from "./messages";

export interface Picture {
  /** Of the whole, px. */
  width: number;
  height: number;
  /** The row its pixels begin with, and how many rows there are; all where it was wanted whole. */
  top: number;
  rows: number;
  divide: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  milliseconds: number;
}

export type Order = Omit<FrameOrder, "id" | "channel">;
type Priority = (typeof PRIORITY)[keyof typeof PRIORITY];
export type Light = [number, number, number];

/** Helper threads beside the host: the rest of the machine's, up to a few. */
const MOST_HELPERS = 7;
/** The channel of what is brought ahead, which nobody waits for. */
const NOBODY = -1;

interface Listener {
  picture?: (picture: Picture) => void;
  light?: (light: Light) => void;
  bins?: (bins: number[]) => void;
  ramp?: (ramp: Ramp) => void;
  counts?: (counts: ScopeCounts) => void;
  judged?: (judged: Judged) => void;
  failed: (reason: string) => void;
}

/** One place that pictures are shown in: only the newest answer to what it asked is told. */
export interface Channel {
  /** Asks for a picture; an older request of the channel is dropped where it stands. */
  show(order: Order, picture: (picture: Picture) => void, failed: (reason: string) => void): void;
  /** Asks for the light at a pixel of the full frame. */
  probe(order: Order, at: { x: number; y: number }, light: (light: Light) => void): void;
  /** Asks how much of the frame's light lies where (core/scopes/light-histogram), as a key judges it. */
  histogram(order: Order, judged: HighlightKey["channel"], bins: (bins: number[]) => void): void;
  /** Asks what becomes of the grey ramp. */
  ramp(order: Omit<Order, "output" | "divide">, ramp: (ramp: Ramp) => void): void;
  /** Asks for what scopes show of the frame. */
  scopes(order: Omit<Order, "output"> & { output: ScopesOutput }, counts: (counts: ScopeCounts) => void): void;
  /** Asks what is to be said of the picture. */
  judge(order: Omit<Order, "output">, judged: (judged: Judged) => void): void;
  close(): void;
}

/** Whether all of a picture is there. */
export const isWhole = ({ rows, height }: Picture): boolean => rows === height;

/** The engine as the interface sees it: channels are opened, as many as are needed, and asked for pictures. */
export class BrowserEngine {
  private readonly host = new Worker("/engine/host.js");
  private readonly open = new Map<number, { latest: Int32Array; listener: Listener | null }>();
  private opened = 0;
  readonly ready: Promise<void>;

  constructor() {
    this.ready = new Promise((resolve) => {
      this.host.addEventListener("message", ({ data }: MessageEvent<FromHost>) => {
        if (data.kind === "ready") return resolve();
        const channel = this.open.get(data.channel);
        if (!channel?.listener || data.id !== channel.latest[0]) return;
        if (data.kind === "frame") channel.listener.picture?.(data);
        else if (data.kind === "histogram") channel.listener.bins?.(data.bins);
        else if (data.kind === "ramp") channel.listener.ramp?.(data.ramp);
        else if (data.kind === "scopes") channel.listener.counts?.(data.counts);
        else if (data.kind === "judge") channel.listener.judged?.(data.judged);
        else if (data.kind === "probe") channel.listener.light?.(data.light);
        else channel.listener.failed(data.reason);
      });
    });
    this.tell({
      kind: "start",
      helpers: Math.max(1, Math.min(MOST_HELPERS, (navigator.hardwareConcurrency || 2) - 1)),
    });
  }

  private tell(message: ToHost): void {
    this.host.postMessage(message);
  }

  /** Glass and view tables that looks may name. */
  setCabinet(profiles: Profile[], tables: [string, Transform][]): void {
    this.tell({ kind: "profiles", profiles, tables });
  }

  /** Opens a channel. What one of a higher priority asks for is done first. */
  openChannel(priority: Priority): Channel {
    const channel = this.opened++;
    const latest = new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));
    this.open.set(channel, { latest, listener: null });
    this.tell({ kind: "open", channel, priority, latest: latest.buffer as SharedArrayBuffer });
    const newest = (listener: Listener, order: Order): FrameOrder => {
      const own = this.open.get(channel);
      if (own) own.listener = listener;
      return { ...order, channel, id: Atomics.add(latest, 0, 1) + 1 };
    };
    return {
      show: (order, picture, failed) => this.tell({ kind: "frame", order: newest({ picture, failed }, order) }),
      probe: (order, { x, y }, light) =>
        this.tell({ kind: "probe", order: newest({ light, failed: () => {} }, order), x, y }),
      histogram: (order, judged, bins) =>
        this.tell({ kind: "histogram", order: newest({ bins, failed: () => {} }, order), judged }),
      ramp: (order, ramp) => {
        const whole: Order = { ...order, divide: 1, output: { kind: "display" } };
        this.tell({ kind: "ramp", order: newest({ ramp, failed: () => {} }, whole) });
      },
      scopes: (order, counts) => this.tell({ kind: "scopes", order: newest({ counts, failed: () => {} }, order) }),
      judge: (order, judged) => {
        const light: Order = { ...order, output: { kind: "light" } };
        this.tell({ kind: "judge", order: newest({ judged, failed: () => {} }, light) });
      },
      close: () => {
        Atomics.add(latest, 0, 1);
        this.open.delete(channel);
        this.tell({ kind: "close", channel });
      },
    };
  }

  /** Brings the pixels of frames ahead of their time, in order, in place of those asked for before; nothing is told of it. */
  prepare(orders: Order[]): void {
    this.tell({ kind: "prepare", orders: orders.map((order) => ({ ...order, channel: NOBODY, id: 0 })) });
  }
}

/** Why this browser cannot run the engine, or null. */
export function engineProblem(): string | null {
  if (typeof WebAssembly === "undefined") return "This browser has no WebAssembly.";
  if (typeof SharedArrayBuffer === "undefined" || !globalThis.crossOriginIsolated)
    return "This browser does not let threads share memory here. Open the application at the address it printed, in a current browser.";
  return null;
}

let only: BrowserEngine | null = null;
export const browserEngine = (): BrowserEngine => (only ??= new BrowserEngine());

/** A channel of a component's own, opened when it is first asked for, and closed with the component. */
export function useChannel(priority: Priority): () => Channel {
  const channel = useRef<Channel | null>(null);
  useEffect(
    () => () => {
      channel.current?.close();
      channel.current = null;
    },
    [],
  );
  return useCallback(() => (channel.current ??= browserEngine().openChannel(priority)), [priority]);
}
