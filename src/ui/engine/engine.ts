"use client";
import { useCallback, useEffect, useRef } from "react";
import { type Channel, createEngineClient, type EngineClient } from "./client";
import type { FromHost } from "./messages";
import type { Priority } from "./questions";

/** Helper threads beside the host: the rest of the machine's, up to a few. */
const MAX_HELPERS = 7;

/** Why this browser cannot run the engine, or null. */
export function engineProblem(): string | null {
  if (typeof WebAssembly === "undefined") return "This browser has no WebAssembly.";
  if (typeof SharedArrayBuffer === "undefined" || !globalThis.crossOriginIsolated)
    return "This browser does not let threads share memory here. Open the application at the address it printed, in a current browser.";
  return null;
}

function startInWorker(): EngineClient {
  const worker = new Worker("/engine/host.js");
  const helpers = Math.max(1, Math.min(MAX_HELPERS, (navigator.hardwareConcurrency || 2) - 1));
  const client = createEngineClient((message) => worker.postMessage(message), helpers);
  worker.addEventListener("message", ({ data }: MessageEvent<FromHost>) => client.hear(data));
  return client;
}

let client: EngineClient | null = null;
/** The page's engine, begun when it is first asked for. */
export const browserEngine = (): EngineClient => (client ??= startInWorker());

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
