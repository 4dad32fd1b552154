// npm run readme: puts the table of formats, as `bin/halo formats` tells it, into docs/files.md.
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";

const START = "<!-- formats: bin/halo formats -->\n";
const END = "<!-- /formats -->";
const label = (depth) => (/^\d+$/.test(depth) ? `${depth} bits` : depth);

export function formatsTable(rows) {
  const line = ({ name, extensions, read, write, compressions, note }) =>
    `| ${name} (${extensions.join(", ")}) | ${read.map(label).join(", ") || "—"} | ${write.map(label).join(", ") || "—"} | ${note}${compressions.length ? `; written with ${compressions.join(", ")}` : ""} |`;
  return ["| format | read | written | |", "|---|---|---|---|", ...rows.map(line)].join("\n");
}

export const withTable = (readme, rows) => {
  const [start, end] = [readme.indexOf(START) + START.length, readme.indexOf(END)];
  return `${readme.slice(0, start)}${formatsTable(rows)}\n${readme.slice(end)}`;
};

if (process.argv[1]?.endsWith("readme-formats.mjs")) {
  const rows = JSON.parse(execFileSync("bin/halo", ["formats", "--json"], { encoding: "utf8" }));
  writeFileSync("docs/files.md", withTable(readFileSync("docs/files.md", "utf8"), rows));
}
