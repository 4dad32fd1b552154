import { KERNEL_NAMES } from "./kernels";

/** A kernel as the compiled module exports it. */
export type Kernel = (...args: number[]) => void;

const PAGE = 65536;
/** The address space of 32-bit WebAssembly, in pages; the module is built with the same figure. */
const MAXIMUM_PAGES = 65536;
/** Initial pages, the same as the module's own import declares. */
const INITIAL_PAGES = 16;

export function createMemory(): WebAssembly.Memory {
  return new WebAssembly.Memory({ initial: INITIAL_PAGES, maximum: MAXIMUM_PAGES, shared: true });
}

/** Grows a memory to at least `bytes`. Throws a RangeError that says how much was asked for when it cannot. */
export function growTo(memory: WebAssembly.Memory, bytes: number): void {
  const missing = Math.ceil(bytes / PAGE) - memory.buffer.byteLength / PAGE;
  if (missing <= 0) return;
  try {
    memory.grow(missing);
  } catch {
    throw new RangeError(`The engine needs ${Math.ceil(bytes / 2 ** 20)} MiB of memory and could not get it`);
  }
}

export function bindKernels(module: WebAssembly.Module, memory: WebAssembly.Memory): Kernel[] {
  const { exports } = new WebAssembly.Instance(module, { env: { memory } });
  return KERNEL_NAMES.map((name) => exports[name] as Kernel);
}
