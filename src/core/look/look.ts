import { z } from "zod";
import { ENCODING_NAMES } from "../colour/encodings";
import type { ElementDefinition, ElementState, Parameter, Values } from "../elements/definition";
import { ELEMENTS, definitionOf } from "../elements/registry";
import type { LensProfile } from "../profile/profiles";
import { DISPLAYS } from "../view/view";
import type { Kind } from "../when/generator";
import { kindOf, numbersIn, type Timed, timedSchema } from "../when/when";
import { type Where, whereSchema } from "../where/schema";
import { trackSchema } from "../track/track";
import { FEWEST_POINTS, MIN_APART, MAX_POINTS } from "../maths/curve";
import { depthPlateSchema } from "../frame/depth-plate";
import { sensorSideSchema, squeezeSchema } from "../frame/camera";
import { elementRanges, MAX_COLOUR, LOOK_RANGES, type Range, rangeOf } from "./ranges";
import { takingSchema } from "./taking";
import { MAX_ELEMENTS, MAX_TRACKS, tooMuch } from "./size";
import { kindInWhere, namedById, type When } from "./timed";

const MAX_TAGS = 12;

function valueSchema(parameter: Parameter): z.ZodType {
  switch (parameter.type) {
    case "number":
      return z
        .number()
        .min(parameter.min)
        .max(parameter.max)
        .describe(`${parameter.help}${parameter.unit ? ` (${parameter.unit})` : ""}`);
    case "triple": {
      const item = z.number().min(parameter.min).max(parameter.max);
      return z.tuple([item, item, item]).describe(`${parameter.help}${parameter.unit ? ` (${parameter.unit})` : ""}`);
    }
    case "colour": {
      const item = z.number().min(0).max(MAX_COLOUR);
      return z.tuple([item, item, item]).describe(parameter.help);
    }
    case "curve": {
      const axis = ({ min, max }: Range) => z.number().min(min).max(max);
      return z
        .array(z.tuple([axis(parameter.x), axis(parameter.y)]))
        .min(FEWEST_POINTS)
        .max(MAX_POINTS)
        .refine(
          (points) => points.every(([x], i) => i === 0 || x >= points[i - 1]![0] + MIN_APART),
          `points ascend along the first axis, at least ${MIN_APART} apart`,
        )
        .describe(
          `${parameter.help} Points of ${parameter.x.label} (${parameter.x.unit}) to ${parameter.y.label} (${parameter.y.unit})`,
        );
    }
    case "choice":
      return z.enum(Object.keys(parameter.options) as [string, ...string[]]).describe(parameter.help);
    case "toggle":
      return z.boolean().describe(parameter.help);
    case "track":
    case "footage":
      return z.string().max(120).describe(parameter.help);
    default:
      return z.string().min(1).max(120).describe(parameter.help);
  }
}

const timedKind = ({ type }: Parameter): Kind | null =>
  type === "number" ? "number" : type === "triple" || type === "colour" ? "triple" : type === "curve" ? "points" : null;

const numberWithin = ({ min, max }: Range) => z.number().min(min).max(max);

/** What is wrong with timing something of a kind, or of none: null where nothing is. */
function timingFault(timed: Timed, kind: Kind | null, unknown: string, range?: Range | null): string | null {
  if (!kind) return unknown;
  if (kindOf(timed) !== kind)
    return {
      number: "takes single numbers",
      triple: "takes keys whose values are three numbers",
      points: "takes keys whose values are points",
    }[kind];
  const outside = range && numbersIn(timed).find((value) => value < range.min || value > range.max);
  return outside === undefined || !range ? null : `is ${outside}; it goes from ${range.min} to ${range.max}`;
}

/** Files may name areas by their number in the list; here they go by their ids. */
const withTimedByIds = <T extends { when?: When; where?: Where }>(read: T): T =>
  read.when ? { ...read, when: namedById(read.when, read.where) } : read;

const whenSchema = z.record(z.string().min(1).max(80), timedSchema).optional();

/** Everything an element has beside its kind and parameters. */
const elementParts = (definition: ElementDefinition) => {
  const { strength, mix } = elementRanges(definition.negative);
  return {
    id: z.string().min(1).max(40),
    on: z.boolean().default(true),
    strength: numberWithin(strength!).default(1).describe(definition.strengthLaw),
    mix: numberWithin(mix!).default(1),
    keptOut: z.boolean().optional().describe("acts at its own strength, whatever the look’s overall strength is"),
    where: whereSchema.optional(),
    when: whenSchema.describe("by parameter, strength, mix, or a path into where, such as where.areas.area-1.x"),
  };
};

const elementSchemas = ELEMENTS.map((definition) =>
  z
    .object({
      kind: z.literal(definition.kind),
      ...elementParts(definition),
      params: z
        .object(
          Object.fromEntries(
            Object.entries(definition.parameters).map(([name, parameter]) => [name, valueSchema(parameter).optional()]),
          ),
        )
        .strict()
        .default({}),
    })
    .strict()
    .superRefine(({ when, where }, context) => {
      const ranges = elementRanges(definition.negative);
      for (const [name, timed] of Object.entries(when ?? {})) {
        // What every object has of itself is no parameter.
        const parameter = Object.hasOwn(definition.parameters, name) ? definition.parameters[name] : undefined;
        const kind = Object.hasOwn(ranges, name)
          ? "number"
          : parameter
            ? timedKind(parameter)
            : kindInWhere(where, name);
        const range = Object.hasOwn(ranges, name) ? ranges[name] : parameter ? rangeOf(parameter) : null;
        const message = timingFault(timed, kind, `names no number of “${definition.kind}” or of its where`, range);
        if (message) context.addIssue({ code: "custom", path: ["when", name], message });
      }
    })
    .transform(withTimedByIds),
);

const lensNumber = (name: "focalLength" | "stop" | "focusDistance") => numberWithin(LOOK_RANGES[`lens.${name}`]!);

/** What a look that leaves its camera, its lens or its view out is made for. */
const DEFAULT_SENSOR = { width: 24.9, height: 14 };
const DEFAULT_LENS = { profile: null, focalLength: 50, stop: 2.8, focusDistance: 3 };
const DEFAULT_VIEW = { kind: "soft", display: "srgb", lutInput: "acescct" } as const;

/** A look of an earlier version, its elements' parameters as they are now; everything else as it stands. */
function fromEarlier(read: unknown): unknown {
  const { elements } = (read ?? {}) as { elements?: unknown };
  if (!Array.isArray(elements)) return read;
  const now = (elements as Partial<LookElement>[]).map((element) => {
    const definition = ELEMENTS.find(({ kind }) => kind === element?.kind);
    const isPlain = typeof element?.params === "object" && element.params !== null;
    return definition?.fromEarlier && isPlain
      ? { ...element, params: definition.fromEarlier(element.params!) }
      : element;
  });
  return { ...(read as object), elements: now };
}

const currentLookSchema = z
  .object({
    format: z.literal("pale-halo-look"),
    version: z.literal(1),
    name: z.string().min(1).max(120),
    purpose: z.string().max(400).optional().describe("what it is for, in words"),
    tags: z.array(z.string().trim().min(1).max(40)).max(MAX_TAGS).optional().describe("words it is found by"),
    camera: z
      .object({
        sensor: z
          .object({ width: sensorSideSchema, height: sensorSideSchema })
          .strict()
          .default(DEFAULT_SENSOR)
          .describe("mm"),
        squeeze: squeezeSchema.default(1),
        taking: takingSchema.optional().describe("the lens the footage was shot through; taken off it first"),
      })
      .strict()
      .default({ sensor: DEFAULT_SENSOR, squeeze: 1 }),
    lens: z
      .object({
        profile: z.string().min(1).max(120).nullable().default(null),
        focalLength: lensNumber("focalLength").default(DEFAULT_LENS.focalLength).describe("mm"),
        stop: lensNumber("stop").default(DEFAULT_LENS.stop).describe("T-stop"),
        focusDistance: lensNumber("focusDistance").default(DEFAULT_LENS.focusDistance).describe("m"),
      })
      .strict()
      .default(DEFAULT_LENS),
    depth: depthPlateSchema
      .optional()
      .describe("other footage that holds distances; without it the footage’s own depth channel serves"),
    elements: z
      .array(
        z.discriminatedUnion(
          "kind",
          elementSchemas as unknown as [(typeof elementSchemas)[number], ...(typeof elementSchemas)[number][]],
        ),
      )
      .max(MAX_ELEMENTS)
      .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, "two elements have the same id"),
    tracks: z
      .array(trackSchema)
      .max(MAX_TRACKS)
      .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, "two tracks have the same id")
      .optional()
      .describe("how things in the picture move; areas and numbers may go along with one"),
    strength: numberWithin(LOOK_RANGES.strength!)
      .default(1)
      .describe("overall strength: multiplies every element’s but those kept out of it; 0 is the footage"),
    where: whereSchema.optional().describe("where the whole path acts; outside it the footage stays as it is"),
    when: whenSchema.describe(
      `by ${Object.keys(LOOK_RANGES).join(", ")}, or a path into where, such as where.areas.area-1.x`,
    ),
    view: z
      .object({
        kind: z.enum(["plain", "soft", "lut"]).default("soft"),
        display: z.enum(DISPLAYS).default("srgb"),
        lut: z.string().min(1).max(120).optional().describe("id of a kept .cube or CLF table; for the kind “lut”"),
        lutInput: z
          .enum(ENCODING_NAMES)
          .default("acescct")
          .describe("what working light is encoded as before the table"),
      })
      .strict()
      .refine(({ kind, lut }) => kind !== "lut" || lut, {
        path: ["lut"],
        message: "a view of the kind “lut” names its table",
      })
      .default(DEFAULT_VIEW),
  })
  .strict()
  .superRefine(({ when, where }, context) => {
    for (const [name, timed] of Object.entries(when ?? {})) {
      const range = Object.hasOwn(LOOK_RANGES, name) ? LOOK_RANGES[name] : undefined;
      const message = timingFault(
        timed,
        range ? "number" : kindInWhere(where, name),
        `names no number of the look: ${Object.keys(LOOK_RANGES).join(", ")}, or one of its where, such as “where.areas.area-1.x”`,
        range,
      );
      if (message) context.addIssue({ code: "custom", path: ["when", name], message });
    }
  })
  .transform(withTimedByIds);

export const lookSchema = z.preprocess((read, context) => {
  const found = tooMuch(read);
  if (found) {
    context.addIssue({ code: "custom", ...found });
    return z.NEVER;
  }
  return fromEarlier(read);
}, currentLookSchema);

export type Look = z.infer<typeof currentLookSchema>;
export type LookElement = {
  id: string;
  kind: string;
  on: boolean;
  strength: number;
  mix: number;
  params: Values;
  /** Acts at its own strength, whatever the look's overall strength. */
  keptOut?: boolean;
  where?: Where;
  when?: When;
};

/** Fills in what an element leaves out: first what the lens measured, then the definition's defaults. */
export function resolveElement(element: LookElement, lens: LensProfile | null): ElementState {
  const definition = definitionOf(element.kind);
  const defaults = Object.fromEntries(
    Object.entries(definition.parameters).map(([name, { default: value }]) => [name, value]),
  ) as Values;
  const measured = ((lens && definition.fromLens?.(lens)) ?? {}) as Values;
  const given = Object.fromEntries(Object.entries(element.params).filter(([, value]) => value !== undefined));
  const { id, kind, strength, mix } = element;
  return { id, kind, strength, mix, values: { ...defaults, ...measured, ...given } };
}

/** Whether an element has a highlight key that has a say as it stands. */
export const isKeyed = (element: LookElement): boolean =>
  Boolean(definitionOf(element.kind).key?.(resolveElement(element, null)));
