import { logEncodingSchema, type OwnEncoding } from "../core/colour/own-encoding";
import { AP1, conversion, P3_D65 } from "../core/colour/primaries";

const matrix = conversion(P3_D65, AP1);

/** The log encoding that the lamp room is delivered in: made up for the production, with P3 primaries. */
export const LAMP_ROOM_LOG = logEncodingSchema.parse({
  format: "pale-halo-encoding",
  version: 1,
  id: "lamp-room-log",
  name: "Lamp room log",
  kind: "log",
  log: {
    base: 10,
    logSideSlope: 0.232,
    logSideOffset: 0.548,
    linSideSlope: 0.96,
    linSideOffset: 0.011,
    linSideBreak: 0.004,
  },
  matrix: [0, 3, 6].map((row) => [0, 1, 2].map((column) => Number(matrix[row + column]!.toFixed(8)))),
}) as Extract<OwnEncoding, { kind: "log" }>;
