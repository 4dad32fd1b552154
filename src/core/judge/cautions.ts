import { glassIn } from "../look/glass";
import { profileIdOf } from "../profile/profiles";
import { takingCautions } from "./taking";
import { definitionOf } from "../elements/registry";
import type { FrameContext } from "../frame/context";
import { cornerHeight } from "../frame/geometry";
import { cleanedText } from "../image/clean";
import type { ElementAtFrame, LookAtFrame } from "../look/at-frame";
import type { Look } from "../look/look";
import { heldMeasurements } from "../profile/reach";
import { JUDGED_BITS, type Judged } from "./judge";
import { STATIONS } from "../elements/definition";

const OVERDONE = 2;

/** Something quiet and specific to say of a look, and what it leads to. */
export interface Caution {
  text: string;
  /** The element it speaks of, by its id; null for the camera and the lens. */
  element: string | null;
  /** It speaks of pixels at the ends of the scale, which can be seen. */
  ends?: true;
}

/** Quiet, specific words about an element as it stands. */
export function cautionsOf({ kind, state, missing, isActive }: ElementAtFrame, context: FrameContext): string[] {
  if (missing) return [`${missing} The element does nothing.`];
  if (!isActive) return [];
  const { reads = [], cautions } = definitionOf(kind);
  const outside = context.lens
    ? heldMeasurements(context.lens, { ...context, corner: cornerHeight(context.geometry) })
    : {};
  return [
    ...(state.strength > OVERDONE ? ["Strength is above twice the measured amount."] : []),
    ...(cautions?.(state, context) ?? []),
    ...reads.flatMap((axis) => outside[axis] ?? []),
  ];
}

/** Shares of the picture below which nothing is said. */
const MIN_CLIPPED = 0.0005;
const MIN_CRUSHED = 0.005;
const MIN_BANDED = 0.01;

const percent = (share: number) => `${(100 * share).toFixed(share < 0.01 ? 2 : 1)} %`;
const rank = (kind: string) => STATIONS.indexOf(definitionOf(kind).station);

/** What the look's geometry fetches beyond the frame, and what the file has there. */
function ofOverscan({ overscan }: Judged): Caution[] {
  if (!overscan) return [];
  const { needed, share, isMore, held } = overscan;
  const holds = held ? `its file holds ${held} px` : "its file holds none";
  const asked = `${isMore ? "More than" : "Up to"} ${needed} px beyond the frame (${percent(share)} of its width)`;
  return [{ text: `${asked} come into the picture; ${holds}: what is missing is made up.`, element: null }];
}

function ofPicture({ clipping, banded, cleaned }: Judged, elements: readonly ElementAtFrame[]): Caution[] {
  const [eight, ten] = banded as [number, number];
  const { clipped, crushed } = clipping;
  // Grain and dither hide steps; a wide glow makes them.
  const hides = elements.find(({ kind }) => kind === "grain") ?? elements.find(({ kind }) => kind === "glow");
  const steps = ten >= MIN_BANDED ? `, and at ${JUDGED_BITS[1]} bits in ${percent(ten)}` : `; not at ${JUDGED_BITS[1]}`;
  const holes = cleanedText(cleaned);
  return [
    ...(holes ? [{ text: `In this frame’s file ${holes}.`, element: null }] : []),
    ...(clipped >= MIN_CLIPPED
      ? [
          {
            text: `${percent(clipped)} of the picture is newly clipped.`,
            element: null,
            ends: true as const,
          },
        ]
      : []),
    ...(crushed >= MIN_CRUSHED
      ? [
          {
            text: `${percent(crushed)} of the picture is newly crushed.`,
            element: null,
            ends: true as const,
          },
        ]
      : []),
    ...(eight >= MIN_BANDED
      ? [
          {
            text: `Gradients would be seen to step at ${JUDGED_BITS[0]} bits in ${percent(eight)} of the picture${steps}.`,
            element: hides?.id ?? null,
          },
        ]
      : []),
  ];
}

/** A lens made for another squeeze than the shot was taken with. */
function ofSqueeze(look: Look, { context }: LookAtFrame): Caution[] {
  const lens = context.lens?.squeeze ?? 1;
  const { squeeze } = look.camera;
  if (!context.lens || Math.abs(lens - squeeze) < 0.01) return [];
  return [
    {
      text: `The lens squeezes ${lens} ×, the shot ${squeeze === 1 ? "not at all" : `${squeeze} ×`}: its discs and streaks are drawn as the lens was measured.`,
      element: null,
    },
  ];
}

/** Glass that is worn as it was before it was changed, as a version was kept with it. */
const ofRevisions = (look: Look, { cabinet }: LookAtFrame["context"]): Caution[] =>
  glassIn(look)
    .filter((id) => id !== profileIdOf(id))
    .map((id) => {
      const name = (one: string) => (cabinet.lenses.get(one) ?? cabinet.filters.get(one))?.name ?? one;
      return {
        text: `${name(id)} is worn as it was kept; ${name(profileIdOf(id))} has a newer one: choose it to wear that.`,
        element: null,
      };
    });

/**
 * All that is to be said of a look at a frame, its elements in the order of the path. `judged`: of the picture, where
 * that is known.
 */
export function allCautions(look: Look, at: LookAtFrame, judged: Judged | null): Caution[] {
  const { elements, context } = at;
  const extrapolated = context.lens
    ? Object.values(heldMeasurements(context.lens, { ...context, corner: cornerHeight(context.geometry) }))
    : [];
  const own = elements.flatMap((element, i): Caution[] => {
    const { label } = definitionOf(element.kind);
    const isLate =
      element.on && elements.slice(0, i).some((other) => other.on && rank(other.kind) > rank(element.kind));
    const edge = judged?.edges.find((entry) => entry.element === element.id);
    const reads = definitionOf(element.kind).reads ?? [];
    const said = cautionsOf(element, context).filter((text) => !reads.length || !extrapolated.includes(text));
    return [
      ...said.map((text) => ({ text: `${label}: ${text}`, element: element.id })),
      ...(isLate
        ? [{ text: `${label}: light meets it after a later station; real light cannot.`, element: element.id }]
        : []),
      ...(edge
        ? [
            {
              text: `${label}: the edge of its area is visible, ${edge.visibility.toFixed(1)} times the threshold.`,
              element: element.id,
            },
          ]
        : []),
    ];
  });
  return [
    ...(judged ? ofPicture(judged, elements) : []),
    ...(judged ? ofOverscan(judged) : []),
    ...ofSqueeze(look, at),
    ...ofRevisions(look, context),
    ...takingCautions(look, at).map((text) => ({ text: `Taking lens: ${text}`, element: null })),
    ...extrapolated.map((text) => ({ text, element: null })),
    ...own,
  ];
}
