import { MeasureError } from "@/core/measure/plane";
import { followLine, type Page } from "@/core/measure/printed/follow";
import { profileOf } from "@/core/measure/printed/profile";
import { readLine } from "@/core/measure/printed/read";
import { printedSchema, type PrintedSpec, type ReadCurve } from "@/core/measure/printed/spec";
import { lensSchema, type LensProfile } from "@/core/profile/profiles";
import { slugOf } from "@/core/profile/slug";
import type { DraftCurve, Place } from "./session";

/** What a curve came to: its values, and the places of its line on the page (px); or why it was not read. */
export type CurveRead = { read: ReadCurve; places: Place[] } | { problem: string };

/** So many places of a followed line can be dragged. */
const HANDLES = 14;

/** Evenly chosen places of a line, its ends among them. */
export const handlesOf = (places: readonly Place[]): Place[] =>
  places.length <= HANDLES
    ? [...places]
    : Array.from({ length: HANDLES }, (_, i) => places[Math.round((i * (places.length - 1)) / (HANDLES - 1))]!);

const followed = new WeakMap<Page, Map<string, Place[]>>();

/** Following a line takes a while; the same place of the same page is followed once. Throws MeasureError. */
function lineFrom(page: Page, from: Place): Place[] {
  const known = followed.get(page) ?? new Map<string, Place[]>();
  followed.set(page, known);
  const key = from.join(" ");
  const line = known.get(key) ?? followLine(page, from).map(([x, y]): Place => [x, y]);
  known.set(key, line);
  return line;
}

const withoutId = ({ id: _, ...curve }: DraftCurve) => curve;

/** Reads one curve; null while it has not been pointed at. */
export function readCurve(page: Page, axes: PrintedSpec["axes"], curve: DraftCurve): CurveRead | null {
  if (!curve.from && !curve.points?.length) return null;
  try {
    const places = curve.from ? lineFrom(page, curve.from) : curve.points!;
    if (places.length < 2) return { problem: "set at least two points" };
    const spec = printedSchema.safeParse({ axes, curves: [withoutId(curve)] });
    if (!spec.success) return { problem: spec.error.issues[0]!.message };
    return { read: readLine(axes, places, Boolean(curve.from)), places };
  } catch (error) {
    if (error instanceof MeasureError) return { problem: error.message };
    throw error;
  }
}

/** The lens that the page's curves come to, or what is lacking. */
export function lensFromPage(
  name: string,
  axes: PrintedSpec["axes"],
  curves: readonly DraftCurve[],
  read: readonly (CurveRead | null)[],
): { profile: LensProfile } | { lack: string } {
  const good = curves.flatMap((curve, i) => {
    const one = read[i];
    return one && "read" in one ? [{ curve, read: one.read }] : [];
  });
  if (!good.length) return { lack: "No curve is followed yet" };
  if (!name.trim()) return { lack: "Give it a name" };
  const spec = {
    id: slugOf(name, "printed"),
    name: name.trim(),
    axes,
    curves: good.map(({ curve }) => withoutId(curve)),
  } as PrintedSpec;
  const profile = lensSchema.safeParse(
    profileOf(
      spec,
      good.map((one) => one.read),
    ),
  );
  if (profile.success) return { profile: profile.data };
  const { path, message } = profile.error.issues[0]!;
  return { lack: `${path.join(".")}: ${message}` };
}
