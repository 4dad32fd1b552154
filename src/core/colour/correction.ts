import { z } from "zod";

/** An ASC CDL v1.2 correction: slope, offset and power a channel, then saturation. */
const positive = z.number().min(0).max(1000);
export const correctionSchema = z.object({
  id: z.string().max(200),
  slope: z.tuple([positive, positive, positive]),
  offset: z.tuple([z.number(), z.number(), z.number()]),
  power: z.tuple([positive, positive, positive]),
  saturation: positive,
});
export type Correction = z.infer<typeof correctionSchema>;
