"use client";
import type { Transform } from "@/core/colour/transform/transform";
import type { Profile } from "@/core/profile/profiles";
import { CHANNELS, type Channel, type FrameOrder, type FromHost, type ToHost } from "./messages";

export interface Picture {
  width: number;
  height: number;
  divide: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  milliseconds: number;
}

type Order = Omit<FrameOrder, "id" | "channel">;

/** Helper threads beside the host: the rest of the machine's, up to a few. */
const MOST_HELPERS = 7;

/** The engine as the interface sees it: ask a channel for a picture; only the newest answer is told. */
export class BrowserEngine {
  private readonly host = new Worker("/engine/host.js");
  private readonly latest = new Int32Array(new SharedArrayBuffer(CHANNELS.length * 4));
  private readonly listeners: Partial<
    Record<
      Channel,
      {
        picture?: (picture: Picture) => void;
        light?: (light: [number, number, number]) => void;
        failed: (reason: string) => void;
      }
    >
  > = {};
  readonly ready: Promise<void>;

  constructor() {
    this.ready = new Promise((resolve) => {
      this.host.addEventListener("message", ({ data }: MessageEvent<FromHost>) => {
        if (data.kind === "ready") return resolve();
        const { channel } = data;
        if (data.id !== this.latest[CHANNELS.indexOf(channel)]) return;
        if (data.kind === "frame") this.listeners[channel]?.picture?.(data);
        else if (data.kind === "probe") this.listeners[channel]?.light?.(data.light);
        else this.listeners[channel]?.failed(data.reason);
      });
    });
    this.tell({
      kind: "start",
      latest: this.latest.buffer as SharedArrayBuffer,
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

  private next(channel: Channel): number {
    return Atomics.add(this.latest, CHANNELS.indexOf(channel), 1) + 1;
  }

  /** Asks for a picture; an older request of the channel is dropped where it stands. */
  show(
    channel: "picture" | "without" | "play",
    order: Order,
    picture: (picture: Picture) => void,
    failed: (reason: string) => void,
  ): void {
    this.listeners[channel] = { picture, failed };
    this.tell({ kind: "frame", order: { ...order, channel, id: this.next(channel) } });
  }

  /** Brings the pixels of frames ahead of their time, in order, in place of those asked for before; nothing is told of it. */
  prepare(orders: Order[]): void {
    this.tell({ kind: "prepare", orders: orders.map((order) => ({ ...order, channel: "play", id: 0 })) });
  }

  /** Light at a pixel. What is read under the cursor is superseded by the next reading; what is picked is not. */
  probe(
    channel: "probe" | "pick",
    order: Order,
    { x, y }: { x: number; y: number },
    light: (light: [number, number, number]) => void,
  ): void {
    this.listeners[channel] = { light, failed: () => {} };
    this.tell({ kind: "probe", order: { ...order, channel, id: this.next(channel) }, x, y });
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
