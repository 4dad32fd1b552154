import { z } from "zod";
import { ENCODING_NAMES } from "../colour/encodings";
import type { ElementState, Parameter, Values } from "../elements/definition";
import { ELEMENTS, definitionOf } from "../elements/registry";
import type { LensProfile } from "../profile/profiles";
import { DISPLAYS } from "../view/view";
import { kindAt, kindOf, type Kind, numbersIn, type Timed, timedSchema } from "../when/when";
import { type Where, whereSchema } from "../where/schema";
import { LARGEST_COLOUR, rangeOf } from "./bounds";
import { depthPlateSchema } from "./depth-plate";

/** Bounds on what strength and a look may hold. */
export const LARGEST_STRENGTH = 10;
const MOST_ELEMENTS = 64;
/** m */
const LARGEST_DISTANCE = 1e6;

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
      const item = z.number().min(0).max(LARGEST_COLOUR);
      return z.tuple([item, item, item]).describe(parameter.help);
    }
    case "choice":
      return z.enum(Object.keys(parameter.options) as [string, ...string[]]).describe(parameter.help);
    case "toggle":
      return z.boolean().describe(parameter.help);
    case "footage":
      return z.string().max(120).describe(parameter.help);
    default:
      return z.string().min(1).max(120).describe(parameter.help);
  }
}

const timedKind = ({ type }: Parameter): Kind | null =>
  type === "number" ? "number" : type === "triple" || type === "colour" ? "triple" : null;

/** What is wrong with timing something of a kind, or of none: null where nothing is. */
function timingFault(timed: Timed, kind: Kind | null, unknown: string, range?: Range | null): string | null {
  if (!kind) return unknown;
  if (kindOf(timed) !== kind)
    return kind === "triple" ? "takes keys whose values are three numbers" : "takes single numbers";
  const outside = range && numbersIn(timed).find((value) => value < range.min || value > range.max);
  return outside === undefined || !range ? null : `is ${outside}; it goes from ${range.min} to ${range.max}`;
}

interface Range {
  min: number;
  max: number;
}

/** What strength and mix go from and to. */
const rangeNamed = (name: string, negative: boolean): Range | null =>
  name === "strength"
    ? { min: negative ? -LARGEST_STRENGTH : 0, max: LARGEST_STRENGTH }
    : name === "mix"
      ? { min: 0, max: 1 }
      : null;

const elementSchemas = ELEMENTS.map((definition) =>
  z
    .object({
      id: z.string().min(1).max(40),
      kind: z.literal(definition.kind),
      on: z.boolean().default(true),
      strength: z
        .number()
        .min(definition.negative ? -LARGEST_STRENGTH : 0)
        .max(LARGEST_STRENGTH)
        .default(1)
        .describe(definition.strengthLaw),
      mix: z.number().min(0).max(1).default(1),
      params: z
        .object(
          Object.fromEntries(
            Object.entries(definition.parameters).map(([name, parameter]) => [name, valueSchema(parameter).optional()]),
          ),
        )
        .strict()
        .default({}),
      where: whereSchema.optional(),
      when: z
        .record(z.string().min(1).max(80), timedSchema)
        .optional()
        .describe("by parameter, strength, mix, or a path into where"),
    })
    .strict()
    .superRefine(({ when, where }, context) => {
      for (const [name, timed] of Object.entries(when ?? {})) {
        const kind =
          name === "strength" || name === "mix"
            ? "number"
            : name in definition.parameters
              ? timedKind(definition.parameters[name]!)
              : kindAt({ where }, name);
        const parameter = definition.parameters[name];
        const range = parameter ? rangeOf(parameter) : rangeNamed(name, definition.negative ?? false);
        const message = timingFault(timed, kind, `names no number of “${definition.kind}” or of its where`, range);
        if (message) context.addIssue({ code: "custom", path: ["when", name], message });
      }
    }),
);

const millimetres = z.number().positive().max(1000);

/** What a look that leaves its camera, its lens or its view out is made for. */
const USUAL_SENSOR = { width: 24.9, height: 14 };
const USUAL_LENS = { profile: null, focalLength: 50, stop: 2.8, focusDistance: 3 };
const USUAL_VIEW = { kind: "soft", display: "srgb", lutInput: "acescct" } as const;

export const lookSchema = z
  .object({
    format: z.literal("pale-halo-look"),
    version: z.literal(1),
    name: z.string().min(1).max(120),
    camera: z
      .object({
        sensor: z.object({ width: millimetres, height: millimetres }).strict().default(USUAL_SENSOR).describe("mm"),
        squeeze: z.number().min(0.25).max(4).default(1),
      })
      .strict()
      .default({ sensor: USUAL_SENSOR, squeeze: 1 }),
    lens: z
      .object({
        profile: z.string().min(1).max(120).nullable().default(null),
        focalLength: millimetres.default(USUAL_LENS.focalLength).describe("mm"),
        stop: z.number().positive().max(128).default(USUAL_LENS.stop).describe("T-stop"),
        focusDistance: z.number().positive().max(LARGEST_DISTANCE).default(3).describe("m"),
      })
      .strict()
      .default(USUAL_LENS),
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
      .max(MOST_ELEMENTS)
      .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, "two elements have the same id"),
    where: whereSchema.optional().describe("where the whole path acts; outside it the footage stays as it is"),
    when: z
      .record(z.string().min(1).max(80), timedSchema)
      .optional()
      .describe("of the whole path’s area: by a path into where"),
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
      .default(USUAL_VIEW),
  })
  .strict()
  .superRefine(({ when, where }, context) => {
    for (const [name, timed] of Object.entries(when ?? {})) {
      const message = timingFault(
        timed,
        kindAt({ where }, name),
        "names no number of the path’s where, such as “where.areas.0.x”",
      );
      if (message) context.addIssue({ code: "custom", path: ["when", name], message });
    }
  });

export type Look = z.infer<typeof lookSchema>;
export type LookElement = {
  id: string;
  kind: string;
  on: boolean;
  strength: number;
  mix: number;
  params: Values;
  where?: Where;
  when?: Record<string, Timed>;
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

/** Every problem of a value against a schema, as `path: what is wrong`. */
export function problems(schema: z.ZodType, value: unknown): string[] {
  const result = schema.safeParse(value);
  return result.success
    ? []
    : result.error.issues.map(({ path, message }) => `${path.join(".") || "(file)"}: ${message}`);
}
