import { z } from "zod";

/** A side of a sensor, mm. */
export const sensorSideSchema = z.number().positive().max(1000);
/** The horizontal compression of an anamorphic lens, as a factor. */
export const squeezeSchema = z.number().min(0.25).max(4);
