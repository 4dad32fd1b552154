import type { ChildProcess, StdioOptions } from "node:child_process";

/** Starts the built application on a data folder and a port. */
export function startServer(
  data: string,
  port: number,
  options?: { host?: string; stdio?: StdioOptions; env?: Record<string, string> },
): ChildProcess;

/** A port of the loopback that nobody listens on. */
export const freePort: () => Promise<number>;
