import { codeIn, type ProblemCode } from "../../contract/problems";
import type { Cleaned } from "../../core/image/clean";
import { NO_OVERSCAN, type Overscan, shownOf } from "../../core/image/overscan";
import type { Depth } from "../../core/image/image";
import { unpackSamples } from "../../core/image/samples";
import type { Matrix3 } from "../../core/maths/matrix";

/** A frame as it came from the server. */
export interface FetchedFrame {
  /** What is shown of it, px. */
  width: number;
  height: number;
  /** With what lies around it. */
  data: Float32Array;
  overscan: Overscan;
  hasDepth: boolean;
  /** What its file held that is no light. */
  cleaned: Cleaned;
}

/** What the server did not give. */
export class FetchProblem extends Error {
  constructor(
    readonly code: ProblemCode,
    message: string,
  ) {
    super(message);
  }
}

export type FetchFrame = (address: string, signal: AbortSignal) => Promise<FetchedFrame>;

/**
 * Fetches a frame of working light, or of depth, at one of the server's addresses. Throws FetchProblem with what the
 * server says.
 */
export const fetchFrame: FetchFrame = async (address, signal) => {
  const response = await fetch(address, { signal });
  if (!response.ok) {
    const answer = (await response.json()) as { error: string; code?: unknown };
    throw new FetchProblem(codeIn(answer), answer.error);
  }
  const told = (name: string) => response.headers.get(name);
  const size = { width: Number(told("x-width")), height: Number(told("x-height")) };
  const channels = told("x-channels") === "3" ? 3 : 4;
  const depth = told("x-samples") as Depth;
  const matrix = told("x-to-working");
  const toWorking = matrix === null ? undefined : (JSON.parse(matrix) as Matrix3);
  const data = unpackSamples({ ...size, channels, depth, toWorking }, await response.arrayBuffer());
  const [notNumbers = 0, infinite = 0] = (told("x-cleaned") ?? "").split(" ").map(Number);
  const around = told("x-overscan");
  const overscan = around === null ? NO_OVERSCAN : (JSON.parse(around) as Overscan);
  return {
    ...shownOf(size, overscan),
    data,
    overscan,
    hasDepth: told("x-depth") === "yes",
    cleaned: { notNumbers, infinite },
  };
};
