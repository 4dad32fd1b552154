/** What the glass sheet says of a shot: for visual effects, and for the camera department. */
import { definitionOf } from "../elements/registry";
import { isRelevant, type Response, STATION_LABELS, workOf } from "../elements/definition";
import { type GeometryTerms, geometryReport, joinTerms } from "../elements/geometry";
import { countOf, firstOf, framesIn, lastOf, type Ranges, rangesText } from "../frame/ranges";
import type { ShotFrame } from "../frame/context";
import { allCautions } from "../judge/cautions";
import type { OverscanNeeded } from "../judge/overscan";
import { type ElementAtFrame, lookAt, type LookAtFrame } from "../look/at-frame";
import { elementNamed } from "../look/edit";
import { moves, placesOnly } from "../look/moved";
import { timedPaths } from "../look/timing";
import type { Look } from "../look/look";
import { numberText, valueText } from "../look/value-text";
import type { Cabinet } from "../profile/profiles";

/** What is known of the footage. */
export interface SheetShot {
  name: string;
  /** The files, as a pattern. */
  footage: string;
  width: number;
  height: number;
  frames: Ranges;
  frameRate: number;
  /** At the first frame. */
  timeCode: string | null;
  /** How the footage is encoded, in words. */
  encoding: string;
  hasDepth: boolean;
}

export type Fact = readonly [what: string, value: string];

export interface SheetElement {
  title: string;
  station: string;
  /** Strength, mix, where and when. */
  amount: string;
  facts: Fact[];
  response: Response | null;
  note: string;
}

export interface GlassSheet {
  title: string;
  subtitle: string;
  groups: { heading: string; facts: Fact[] }[];
  elements: SheetElement[];
  cautions: string[];
  /** Charts that went through the glass, where they did: a table, its headings first. */
  measured: string[][] | null;
}

/** Frames at which what is timed is looked at, at most: over the whole shot, first and last among them. */
const MAX_LOOKED_AT = 120;

function framesLookedAt(frames: Ranges): number[] {
  const all = [...framesIn(frames)];
  const step = Math.max(1, Math.ceil(all.length / MAX_LOOKED_AT));
  return [...new Set([...all.filter((_, i) => i % step === 0), lastOf(frames)])];
}

/** A number over a shot: as it is, or from where to where. */
function overShot(values: readonly number[], step: number, write: (text: string) => string): string {
  const text = (value: number) => write(numberText(value, step));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  if (text(least) === text(most)) return text(values[0]!);
  return `${text(values[0]!)} at the first frame, ${text(values.at(-1)!)} at the last; ${text(least)} to ${text(most)}`;
}

function lensFacts({ camera: { taking } }: Look, ats: readonly LookAtFrame[]): Fact[] {
  const { context } = ats[0]!;
  const of = (read: (at: LookAtFrame) => number) => ats.map(read);
  const takenName = taking && (context.cabinet.lenses.get(taking.profile)?.name ?? taking.profile);
  return [
    ["Lens", context.lens?.name ?? "no lens profile"],
    [
      "Focal length",
      overShot(
        of((at) => at.context.focalLength),
        0.1,
        (text) => `${text} mm`,
      ),
    ],
    [
      "Stop",
      overShot(
        of((at) => at.context.stop),
        0.1,
        (text) => `T${text}`,
      ),
    ],
    [
      "Focus",
      overShot(
        of((at) => at.context.focusDistance),
        0.01,
        (text) => `${text} m`,
      ),
    ],
    ...(taking ? [["Taken off", `${takenName}, ${taking.focalLength} mm, T${taking.stop}`] as const] : []),
  ];
}

/** What moves the picture, joined: displacement, what is lost, and the maps for others. */
function geometryFacts({ elements, context }: LookAtFrame, overscan: OverscanNeeded, isMoved: boolean): Fact[] {
  const terms = elements
    .filter(({ isActive }) => isActive)
    .flatMap(({ kind, state }): GeometryTerms[] => {
      const work = workOf(definitionOf(kind), state);
      return work.kind === "geometry" ? [work.terms(state, context)] : [];
    });
  const taken = context.taken ? [{ taken: context.taken }] : [];
  const joined = [...taken, ...terms].reduce<GeometryTerms | null>((a, b) => (a ? joinTerms(a, b) : a), {});
  const report = joined && geometryReport(joined, context.geometry, context.focalLength);
  const px = ({ left, top, right, bottom, isMore }: OverscanNeeded) =>
    `${isMore ? "more than " : ""}left ${left}, top ${top}, right ${right}, bottom ${bottom} px`;
  return [
    ...(report
      ? ([
          ["Largest displacement", `${report.largest.toFixed(1)} px`],
          ["Picture that leaves the frame", `${(100 * report.lost).toFixed(2)} %`],
          ["Scale on the axis", `${(1 / report.zoom).toFixed(4)} ×`],
        ] as const)
      : [["Displacement", "in more than one step: see the elements"] as const]),
    ["Overscan needed", px(overscan)],
    [
      "Distortion maps",
      isMoved
        ? "beside the frames, where they are ordered; or by halo stmap --look"
        : "none: nothing moves the picture",
    ],
  ];
}

const amountOf = (
  { state, where, on, missing }: ElementAtFrame,
  timed: readonly string[],
  isKeptOut: boolean,
): string =>
  [
    on ? `${Number((100 * state.strength).toFixed(1))} % of the measured amount` : "switched off",
    ...(state.mix !== 1 ? [`mix ${Number((100 * state.mix).toFixed(1))} %`] : []),
    ...(where ? [`in ${where.areas.length} ${where.areas.length === 1 ? "area" : "areas"}`] : []),
    ...(timed.length ? [`timed: ${timed.join(", ")}`] : []),
    ...(isKeptOut ? ["kept out of the overall strength"] : []),
    ...(missing ? [missing] : []),
  ].join("; ");

/** An element with what of it has a say, in its own units. */
function elementOf(look: Look, element: ElementAtFrame, { context }: LookAtFrame): SheetElement {
  const { kind, id, state } = element;
  const definition = definitionOf(kind);
  const { cabinet } = context;
  const names = {
    nameOf: (name: string) => cabinet.lenses.get(name)?.name ?? cabinet.filters.get(name)?.name ?? name,
    lensOf: (name: string) => cabinet.lenses.get(name) ?? null,
  };
  const facts = Object.entries(definition.parameters)
    .filter(([, parameter]) => isRelevant(parameter, state.values))
    .map(([name, parameter]): Fact => [parameter.label, valueText(parameter, state.values[name], names)]);
  const timed = timedPaths(look, id).map(([, name]) => definition.parameters[name]?.label ?? name);
  const response = element.missing ? null : definition.response(state, context);
  return {
    title: definition.label,
    station: STATION_LABELS[definition.station],
    amount: amountOf(element, timed, Boolean(elementNamed(look, id).keptOut)),
    facts,
    response,
    note: response?.note ?? "",
  };
}

/**
 * Everything the sheet says. `overscan`: what the look's geometry needs beyond the frame (judge/overscan). `measured`:
 * what charts through the look came to (verify/table), its headings first.
 */
export function glassSheet(
  look: Look,
  cabinet: Cabinet,
  shot: SheetShot,
  overscan: OverscanNeeded,
  measured: string[][] | null = null,
): GlassSheet {
  const { width, height, frames, frameRate, hasDepth } = shot;
  const moment = (frame: number): ShotFrame => ({
    ...{ width, height, frame, frameRate, hasDepth },
    shot: { first: firstOf(frames), last: lastOf(frames) },
  });
  const ats = framesLookedAt(frames).map((frame) => lookAt(look, cabinet, moment(frame)));
  const first = ats[0]!;
  // By what a map is made of: lateral colour alone makes none.
  const isMoved = moves(lookAt(placesOnly(look, first), cabinet, moment(firstOf(frames))));
  const { sensor, squeeze } = look.camera;
  const { view } = look;
  return {
    title: look.name || "Glass sheet",
    subtitle: shot.name,
    groups: [
      {
        heading: "Shot",
        facts: [
          ["Footage", shot.footage],
          ["Frames", `${rangesText(frames)} (${countOf(frames)}), ${numberText(frameRate, 0.001)} a second`],
          ["Time code", shot.timeCode ?? "none"],
          ["Size", `${width} × ${height} px`],
          ["Sensor", `${sensor.width} × ${sensor.height} mm${squeeze === 1 ? "" : `, squeeze ${squeeze} ×`}`],
          ["Encoding", shot.encoding],
          ["View", view.kind === "lut" ? `table ${view.lut}` : `${view.kind}, ${view.display}`],
        ],
      },
      { heading: "Glass", facts: lensFacts(look, ats) },
      { heading: "Geometry", facts: geometryFacts(first, overscan, isMoved) },
      {
        heading: "Whole look",
        facts: [
          [
            "Overall strength",
            overShot(
              ats.map(({ strength }) => 100 * strength),
              0.1,
              (text) => `${text} %`,
            ),
          ],
          [
            "Elements",
            `${first.elements.filter(({ isActive }) => isActive).length} at work of ${first.elements.length}`,
          ],
        ],
      },
    ],
    elements: first.elements.map((element) => elementOf(look, element, first)),
    cautions: allCautions(look, first, null).map(({ text }) => text),
    measured,
  };
}
