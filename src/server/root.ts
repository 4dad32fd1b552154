import { join } from "node:path";

/** The project's folder: where `dist` and `examples` are. The command line's bundle and Next.js both start in it or set it. */
export const projectRoot = () => process.env.HALO_ROOT ?? process.cwd();
export const built = (name: string) => join(projectRoot(), "dist", name);

/** Where the database, footage and renders live. */
export const dataRoot = () => process.env.HALO_DATA ?? join(projectRoot(), ".data");

/** A frame size written as WIDTHxHEIGHT, px. */
const SIZE = /^([1-9]\d{1,3})x([1-9]\d{1,3})$/;

/** The size the demo footage is computed at, unless HALO_DEMO_SIZE says otherwise (the interface tests do with less). Throws a RangeError for what is no size. */
export function demoSize(usual: { width: number; height: number }): { width: number; height: number } {
  const asked = process.env.HALO_DEMO_SIZE;
  if (!asked) return usual;
  const found = SIZE.exec(asked);
  if (!found)
    throw new RangeError(`HALO_DEMO_SIZE: “${asked}” is no size; write WIDTHxHEIGHT in pixels, for example 640x360`);
  return { width: Number(found[1]), height: Number(found[2]) };
}
