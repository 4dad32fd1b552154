import type { Ends, PlateEncoding } from "../frame/plate";
import { type ArgumentsOf, kernelDefinition, type KernelName, type TableRef, type Value } from "./kernels";

export interface BufferSpec {
  width: number;
  height: number;
  /** 16 for RGBA float32, 4 for RGBA 8-bit. */
  pixelBytes: number;
  /** Where the frame's edge lies, in this buffer's cells; on levels of a pyramid perhaps within the last one. */
  edgeX: number;
  edgeY: number;
}

/** A kernel at work on buffers of a plan. */
export interface Operation {
  kernel: KernelName;
  /** By name, as the kernel declares them (engine/kernels.ts). */
  args: Readonly<Record<string, Value>>;
  /** Rows to share out, and the pixels of work in each. */
  rows: number;
  rowPixels: number;
  output: number;
  /** A further buffer that is filled on the way. */
  beside?: number;
}

export interface PlanStep {
  /** Everything the step's result depends on; equal keys mean equal pixels. */
  cacheKey: string;
  operations: Operation[];
  output: number;
}

/** A buffer that depends on no pixel of the frame; made once and kept under its own cache key. */
export interface Constant {
  cacheKey: string;
  operation: Operation;
}

/** A frame of other footage, counted from its first, in working light, cut and scaled to the plan's size. */
export interface PlateRequest {
  kind: "plate";
  footage: string;
  encoding: PlateEncoding;
  ends: Ends;
  index: number;
}

/** Working light after a look (core/look), which who runs the plan compiles. */
export interface LookRequest {
  kind: "look";
  look: object;
  /** What it is made of, by its content. */
  glass: string;
  still?: number;
  /** Of the shot, by its number. Default: the plan's own. */
  frame?: number;
}

/**
 * Pixels a plan needs beside its source: another frame of the shot, the frame's depth (m, in every lane), other
 * footage, or what another look makes of the same frame.
 */
export type SourceRequest = { kind: "frame"; number: number } | { kind: "depth" } | PlateRequest | LookRequest;

export interface ExtraSource {
  buffer: number;
  cacheKey: string;
  request: SourceRequest;
}

/** What a frame costs, written out: operations on numbered buffers, grouped in steps whose results can be kept. */
export interface Plan {
  /** Size of the source frame, px, with its overscan. */
  width: number;
  height: number;
  buffers: BufferSpec[];
  tables: Uint8Array[];
  constants: Constant[];
  steps: PlanStep[];
  /** Key of the source frame, which is buffer 0. */
  sourceKey: string;
  extras: ExtraSource[];
}

/**
 * Widest row any kernel pads or keeps is held in this many rows of scratch a thread (the ring of the grain is the
 * largest).
 */
export const SCRATCH_ROWS = 136;

/** The cache key of what `recipe` makes of what stands under another. */
export const cacheKeyAfter = (cacheKey: string, recipe: string): string => `${cacheKey}\n${recipe}`;

/** What a kernel fills. */
const outputOf = (args: object) => (args as { out: number }).out;

/** Collects a plan. Elements ask it for buffers, tables and operations; they never see an address. */
export class PlanBuilder {
  readonly buffers: BufferSpec[];
  readonly tables: Uint8Array[] = [];
  readonly steps: PlanStep[] = [];
  readonly constants: Constant[] = [];
  readonly extras: ExtraSource[] = [];
  private pending: Operation[] = [];
  private cacheKey: string;

  /** Size of the buffers that are asked for without one, px. */
  width: number;
  height: number;

  constructor(
    width: number,
    height: number,
    readonly sourceKey: string,
  ) {
    this.width = width;
    this.height = height;
    this.cacheKey = sourceKey;
    this.buffers = [{ width, height, pixelBytes: 16, edgeX: width, edgeY: height }];
  }

  buffer(width = this.width, height = this.height, pixelBytes = 16): number {
    return this.buffers.push({ width, height, pixelBytes, edgeX: width, edgeY: height }) - 1;
  }

  /** Cuts a buffer to a part of it, as a step of its own; what is asked for from here on has its size. */
  crop(image: number, { left, top }: { left: number; top: number }, width: number, height: number): number {
    const source = this.size(image);
    this.width = width;
    this.height = height;
    const out = this.add("crop", {
      source: image,
      out: this.buffer(),
      width: source.width,
      outWidth: width,
      left,
      top,
    });
    return this.step(`crop ${left} ${top} ${width} ${height}`, out);
  }

  /** The buffer that holds further pixels of the source, which whoever runs the plan brings. */
  source(request: SourceRequest): number {
    const cacheKey = `${this.sourceKey} ${JSON.stringify(request)} ${this.width} ${this.height}`;
    const found = this.extras.find((entry) => entry.cacheKey === cacheKey);
    if (found) return found.buffer;
    const buffer = this.buffer();
    this.extras.push({ buffer, cacheKey, request });
    return buffer;
  }

  /** A buffer like another, or of half its size in the directions asked for. */
  level(of: number, halveX = false, halveY = false): number {
    const { width, height, pixelBytes, edgeX, edgeY } = this.size(of);
    const spec = {
      pixelBytes,
      width: halveX ? Math.ceil(width / 2) : width,
      height: halveY ? Math.ceil(height / 2) : height,
      edgeX: halveX ? edgeX / 2 : edgeX,
      edgeY: halveY ? edgeY / 2 : edgeY,
    };
    return this.buffers.push(spec) - 1;
  }

  size(buffer: number): BufferSpec {
    return this.buffers[buffer]!;
  }

  table(values: ArrayBufferView): TableRef {
    const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength).slice();
    return { table: this.tables.push(bytes) - 1 };
  }

  floats(values: ArrayLike<number>): TableRef {
    return this.table(new Float32Array(values));
  }

  /**
   * Adds an operation that fills `args.out`, which it gives back; its rows and the pixels in each are that buffer's
   * unless given.
   */
  add<K extends KernelName>(
    kernel: K,
    args: ArgumentsOf<K>,
    rows = this.size(outputOf(args)).height,
    rowPixels = this.size(outputOf(args)).width,
  ): number {
    const output = outputOf(args);
    const further = kernelDefinition(kernel).alsoFills;
    const beside = further === undefined ? undefined : (args as Record<string, number>)[further];
    this.pending.push({ kernel, args: args as Record<string, Value>, rows, rowPixels, output, beside });
    return output;
  }

  /** Takes the operation just added out of the current step: what it makes depends on `key` alone. */
  constant(cacheKey: string): void {
    this.constants.push({ cacheKey: `constant ${cacheKey}`, operation: this.pending.pop()! });
  }

  /** Ends a step: what was added since the last one makes `output`, and depends on what came before and on `recipe`. */
  step(recipe: string, output: number): number {
    this.pass(recipe);
    this.steps.push({ cacheKey: this.cacheKey, operations: this.pending, output });
    this.pending = [];
    return output;
  }

  /** What comes after depends on `recipe`, too, which by itself changed nothing. */
  pass(recipe: string): void {
    this.cacheKey = cacheKeyAfter(this.cacheKey, recipe);
  }

  finish(): Plan {
    if (this.pending.length) throw new Error("Operations were added after the last step");
    const { buffers, tables, constants, steps, sourceKey, extras } = this;
    const { width, height } = buffers[0]!;
    return { width, height, buffers, tables, constants, steps, sourceKey, extras };
  }
}
