import type { OwnEncoding, TableEncoding } from "../core/colour/own-encoding";

/** A made encoding as it is listed: tables come without their text. */
export type ListedEncoding = Exclude<OwnEncoding, TableEncoding> | Omit<TableEncoding, "text">;

/** Working light of grey code values, 0 to 1. */
export interface GreyRamp {
  family: string;
  codes: number[];
  light: number[];
}
