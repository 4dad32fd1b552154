/** The glass sheet as a page that needs nothing beside it and prints on paper. */
import type { Fact, GlassSheet, SheetElement } from "./contents";
import { escaped, plotSvg } from "./plot";

const STYLE = `
@page { size: A4; margin: 12mm; }
* { box-sizing: border-box; }
body { margin: 0 auto; max-width: 186mm; color: #111; background: #fff;
  font: 8.6pt/1.32 Archivo, "Helvetica Neue", Arial, sans-serif; font-variant-numeric: tabular-nums; }
header { display: flex; justify-content: space-between; align-items: baseline; border-bottom: 0.6pt solid #111; }
h1 { font-size: 15pt; margin: 0 0 1mm; }
h2 { font-size: 10pt; margin: 4mm 0 1mm; }
h3 { font-size: 9.4pt; margin: 0; }
.groups { display: grid; grid-template-columns: 1fr 1fr; column-gap: 8mm; }
.elements { display: grid; grid-template-columns: repeat(3, 1fr); gap: 3mm; }
section, article, li { break-inside: avoid; }
article { border: 0.4pt solid #bbb; border-radius: 1mm; padding: 1.6mm 2mm; }
dl { margin: 0; display: grid; grid-template-columns: max-content 1fr; column-gap: 2.5mm; }
dt { color: #555; }
dd { margin: 0; overflow-wrap: anywhere; }
article dl { font-size: 7.4pt; }
svg { width: 100%; margin-top: 1mm; font-size: 9px; fill: #333; }
.quiet { color: #555; }
.note { font-size: 7pt; color: #555; margin: 0; }
table { border-collapse: collapse; width: 100%; font-size: 7.4pt; }
th { font-weight: normal; color: #555; text-align: left; }
th, td { padding: 0.3mm 2mm 0.3mm 0; border-bottom: 0.3pt solid #ddd; vertical-align: top; }
tr { break-inside: avoid; }
ul { margin: 0; padding-left: 4mm; }
`;

const list = (facts: readonly Fact[]) =>
  `<dl>${facts.map(([what, value]) => `<dt>${escaped(what)}</dt><dd>${escaped(value)}</dd>`).join("")}</dl>`;

const card = ({ title, station, amount, facts, response, note }: SheetElement, i: number) =>
  [
    `<article><h3>${i + 1}. ${escaped(title)} <span class="quiet">${escaped(station)}</span></h3>`,
    `<p class="note">${escaped(amount)}</p>`,
    list(facts),
    response ? plotSvg(response) : "",
    note ? `<p class="note">${escaped(note)}</p>` : "",
    "</article>",
  ].join("");

/** Charts through the glass, held against its profiles. */
function measuredTable([headings, ...rows]: string[][]): string {
  const line = (cells: readonly string[], tag: "th" | "td") =>
    `<tr>${cells.map((cell) => `<${tag}>${escaped(cell)}</${tag}>`).join("")}</tr>`;
  return [
    "<h2>Measured: charts through the glass, beside its profiles</h2>",
    `<table><thead>${line(headings!, "th")}</thead><tbody>${rows.map((row) => line(row, "td")).join("")}</tbody></table>`,
  ].join("");
}

/** `made`: by what, as it stands at the foot. */
export function sheetHtml(sheet: GlassSheet, made: string): string {
  const { title, subtitle, groups, elements, cautions, measured } = sheet;
  return `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><title>${escaped(`${title}, ${subtitle}`)}</title><style>${STYLE}</style></head>
<body>
<header><h1>${escaped(title)}</h1><p>${escaped(subtitle)}</p></header>
<div class="groups">
${groups.map(({ heading, facts }) => `<section><h2>${escaped(heading)}</h2>${list(facts)}</section>`).join("\n")}
</div>
<h2>Light path, in the order light meets it</h2>
<div class="elements">
${elements.map(card).join("\n")}
</div>
${cautions.length ? `<section><h2>Mind</h2><ul>${cautions.map((text) => `<li>${escaped(text)}</li>`).join("")}</ul></section>` : ""}
${measured ? measuredTable(measured) : ""}
<p class="note">Drawn lines are what is applied, broken ones what was measured. ${escaped(made)}</p>
</body>
</html>
`;
}
