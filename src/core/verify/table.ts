import { isMet, type Quantity } from "./quantity";

export const HEADINGS = ["element", "quantity", "profile", "measured", "difference", "bar", ""];
const DIGITS = 4;

const withUnit = (value: string, unit: string) => (unit ? `${value} ${unit}` : value);
const figure = (value: number) => (value === 0 ? "0" : String(Number(value.toPrecision(DIGITS))));
/** Differences to a hundredth of their bar: what lies below is not known. */
const difference = (value: number, bar: number) => value.toFixed(Math.max(0, 2 - Math.floor(Math.log10(bar))));

/** Lines of the table, heading first. */
export const rowsOf = (quantities: Quantity[]): string[][] =>
  quantities.map((quantity) => [
    quantity.kind,
    quantity.quantity,
    withUnit(figure(quantity.profile), quantity.unit),
    withUnit(figure(quantity.measured), quantity.unit),
    withUnit(difference(quantity.difference, quantity.bar), quantity.barUnit),
    withUnit(String(quantity.bar), quantity.barUnit),
    isMet(quantity) ? "met" : "missed",
  ]);

/** As text, in columns. */
export function tableOf(quantities: Quantity[]): string {
  const rows = [HEADINGS, ...rowsOf(quantities)];
  const widths = HEADINGS.map((_, k) => Math.max(...rows.map((row) => row[k]!.length)));
  return rows
    .map((row) =>
      row
        .map((cell, k) => cell.padEnd(widths[k]!))
        .join("  ")
        .trimEnd(),
    )
    .join("\n");
}

/** As a table in Markdown. */
export const markdownOf = (quantities: Quantity[]): string =>
  [HEADINGS, HEADINGS.map(() => "---"), ...rowsOf(quantities)].map((row) => `| ${row.join(" | ")} |`).join("\n");
