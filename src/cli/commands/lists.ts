import { Command } from "commander";
import { z } from "zod";
import { ENCODINGS } from "../../core/colour/encodings";
import { ELEMENTS } from "../../core/elements/registry";
import type { FormatDescription } from "../../formats/format";
import { FORMATS } from "../../formats/formats";
import { containerOf, MOVIE_CONTAINERS } from "../../formats/movies";
import { hasFfmpeg } from "../../server/footage/movies/ffmpeg";
import { problemsInFile, readJson, schemaFor, SCHEMAS } from "../files";
import { UsageError } from "../options";

const table = (name: string, description: string, rows: () => object[], line: (row: never) => string) =>
  new Command(name)
    .description(description)
    .option("--json", "JSON")
    .action(({ json }: { json?: boolean }) => {
      if (json) console.log(JSON.stringify(rows(), null, 1));
      else for (const row of rows()) console.log(line(row as never));
    });

const elementRows = () =>
  ELEMENTS.map(({ kind, label, station, summary, advice, strengthLaw, parameters, presets }) => ({
    kind,
    label,
    station,
    summary,
    advice,
    strength: strengthLaw,
    presets,
    parameters: Object.entries(parameters).map(([name, parameter]) => ({
      name,
      ...parameter,
      ...("min" in parameter ? { range: [parameter.min, parameter.max] } : {}),
    })),
  }));

type ElementRow = ReturnType<typeof elementRows>[number];

export const listCommands = (): Command[] => [
  table("elements", "Every element, with its parameters", elementRows, (row: ElementRow) =>
    [
      `${row.kind} (${row.station}): ${row.summary}`,
      ...row.parameters.map(
        (p) =>
          `    ${p.name}: ${"unit" in p && p.unit ? `${p.unit}, ` : ""}${"range" in p && p.range ? `${p.range.join(" to ")}, ` : ""}default ${JSON.stringify(p.default)}`,
      ),
    ].join("\n"),
  ),
  table(
    "encodings",
    "Every encoding",
    () => ENCODINGS.map(({ name, label, family, primaries }) => ({ name, label, family, primaries })),
    (row: { name: string; label: string }) => `${row.name}: ${row.label}`,
  ),
  table(
    "formats",
    "Every format, what is read and what is written",
    () =>
      [...FORMATS, ...MOVIE_CONTAINERS].map(({ name, extensions, read, write, compressions, note }) => ({
        name,
        extensions,
        read,
        write,
        compressions,
        note,
        ...(containerOf(`x${extensions[0]}`) ? { ffmpeg: hasFfmpeg() } : {}),
      })),
    (row: FormatDescription & { ffmpeg?: boolean }) =>
      `${row.name} (${row.extensions.join(" ")}): reads ${row.read.join(", ") || "nothing"}; writes ${row.write.join(", ") || "nothing"}. ${row.note}.${row.ffmpeg === false ? " (ffmpeg is not here.)" : ""}`,
  ),
];

export const schemaCommand = () =>
  new Command("schema")
    .description("The JSON Schema of a look, a lens or a filter profile")
    .argument("<kind>", Object.keys(SCHEMAS).join(", "))
    .action((kind: string) => {
      const found = Object.hasOwn(SCHEMAS, kind) ? SCHEMAS[kind] : undefined;
      if (!found)
        throw new UsageError(`${kind}: there is no such schema; there are ${Object.keys(SCHEMAS).join(", ")}`);
      console.log(JSON.stringify(z.toJSONSchema(found.schema, { unrepresentable: "any", io: "input" }), null, 1));
    });

export const checkCommand = () =>
  new Command("check")
    .description("A look or profile against its schema; every problem with its path")
    .argument("<file>")
    .option("--json", "JSON")
    .action((path: string, { json }: { json?: boolean }) => {
      const value = readJson(path);
      const found = problemsInFile(path, schemaFor(path, value), value);
      if (json) console.log(JSON.stringify({ file: path, problems: found }));
      else
        console.log(found.length ? found.map((problem) => `${path}: ${problem}`).join("\n") : `${path}: no problems`);
      if (found.length) process.exitCode = 2;
    });
