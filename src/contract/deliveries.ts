/** Several shots and versions rendered at once, the same way: a delivery, which may be kept by its name. */
import { z } from "zod";
import { MAX_FRAME } from "../core/frame/ranges";
import { namingProblem } from "./naming";
import { besidesSchema, carriedSchema, placeSchema, RENDER_FORMATS, RENDER_MOVIES, slateSchema } from "./renders";

const FORMAT_NAMES = [...Object.keys(RENDER_FORMATS), ...Object.keys(RENDER_MOVIES)] as [
  keyof typeof RENDER_FORMATS | keyof typeof RENDER_MOVIES,
];

const MAX_FORMATS = 8;
export const MAX_HANDLES = 1000;
/** Renders that one order queues at most. */
export const MAX_RENDERS = 400;

const frame = z.number().int().nonnegative().max(MAX_FRAME);

export const deliverySchema = z
  .object({
    formats: z.array(z.enum(FORMAT_NAMES)).min(1).max(MAX_FORMATS),
    encoding: z.string().min(1).max(120).nullable().default(null),
    carried: carriedSchema.optional(),
    slate: slateSchema.nullable().default(null),
    besides: besidesSchema.default([]),
    into: placeSchema.nullable().default(null),
    handles: z.number().int().min(0).max(MAX_HANDLES).default(0).describe("frames before in and after out"),
    /** Only these of each shot's frames; null for all from in to out. */
    only: z.object({ first: frame, last: frame }).strict().nullable().default(null),
    naming: z
      .string()
      .min(1)
      .max(160)
      .superRefine((pattern, context) => {
        const problem = namingProblem(pattern);
        if (problem) context.addIssue({ code: "custom", message: problem });
      })
      .describe("{shot}, {version}, {date} and {frame} are filled in"),
  })
  .strict();
export type Delivery = z.output<typeof deliverySchema>;

/** PUT /api/deliveries: keeps a delivery under its name, in place of the one that had it. */
export const keepDeliveryBody = z
  .object({ name: z.string().trim().min(1).max(120), delivery: deliverySchema })
  .strict();

/** POST /api/deliveries/queue: a version is null for the look as it is now. */
export const queueDeliveryBody = z
  .object({
    delivery: deliverySchema,
    of: z
      .array(z.object({ shotId: z.string().max(80), versionId: z.number().int().nullable() }).strict())
      .min(1)
      .max(MAX_RENDERS),
  })
  .strict();
export type QueueDelivery = z.output<typeof queueDeliveryBody>;

export interface KeptDelivery {
  id: number;
  name: string;
  delivery: Delivery;
}

/** What a render's folder holds, with hashes: GET /api/renders/ID/manifest. */
export interface RenderManifest {
  render: number;
  shot: string;
  version: string;
  state: string;
  files: { file: string; bytes: number; sha256: string }[];
}
