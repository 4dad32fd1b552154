import { join, resolve } from "node:path";
import { projectRoot } from "../../formats/project";

/** What keeps the application from starting, in one line that says what to do. */
export class StartProblem extends Error {
  override readonly name = "StartProblem";
  /** As it was said: Next.js puts words of its own before the message. */
  readonly line: string;

  constructor(line: string) {
    super(line);
    this.line = line;
  }
}

/** Where the database, footage and renders live. Throws StartProblem where HALO_DATA is set to nothing. */
export function dataRoot(): string {
  const named = process.env.HALO_DATA;
  if (named !== undefined && named.trim() === "")
    throw new StartProblem(
      "HALO_DATA is set but empty; name a folder, or unset it to use .data in the project's folder",
    );
  return resolve(/*turbopackIgnore: true*/ named ?? join(projectRoot(), ".data"));
}

/** A frame size written as WIDTHxHEIGHT, px. */
const SIZE = /^([1-9]\d{1,3})x([1-9]\d{1,3})$/;

/**
 * The size the demo footage is computed at, unless HALO_DEMO_SIZE says otherwise (the interface tests do with less).
 * Throws StartProblem for what is no size.
 */
export function demoSize(usual: { width: number; height: number }): { width: number; height: number } {
  const asked = process.env.HALO_DEMO_SIZE;
  if (!asked) return usual;
  const found = SIZE.exec(asked);
  if (!found)
    throw new StartProblem(`HALO_DEMO_SIZE: “${asked}” is no size; write WIDTHxHEIGHT in pixels, for example 640x360`);
  return { width: Number(found[1]), height: Number(found[2]) };
}
