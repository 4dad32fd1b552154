"use client";
import { lightAt, stopsOf } from "@/core/colour/grey";
import { useQueryClient } from "@tanstack/react-query";
import { Download, FileUp, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { logEncodingSchema, type OwnEncoding, ownEncodingSchema } from "@/core/colour/own-encoding";
import { AP0, AP1, conversion, P3_D65, REC2020, REC709 } from "@/core/colour/primaries";
import { type LogParams, logTransfer } from "@/core/colour/transfer/log";
import { saveFile } from "../shared/download";
import { api } from "../shared/api";
import { useOwnEncodings } from "../shared/encodings";
import { Plot } from "../shared/plot";

const PRIMARIES = { AP1: AP1, AP0: AP0, "BT.709": REC709, "BT.2020": REC2020, "P3, D65": P3_D65 } as const;
const FIELDS: { name: keyof LogParams; label: string; optional?: string }[] = [
  { name: "base", label: "Base" },
  { name: "logSideSlope", label: "Log-side slope" },
  { name: "logSideOffset", label: "Log-side offset" },
  { name: "linSideSlope", label: "Linear-side slope" },
  { name: "linSideOffset", label: "Linear-side offset" },
  { name: "linSideBreak", label: "Break (light)", optional: "none" },
  { name: "linearSlope", label: "Slope below it", optional: "smooth" },
];
/** A curve to begin with: ACEScct's own numbers. */
const START: Record<string, string> = {
  base: "2",
  logSideSlope: "0.0570776",
  logSideOffset: "0.5547945",
  linSideSlope: "1",
  linSideOffset: "0",
  linSideBreak: "0.0078125",
  linearSlope: "",
};
const IDENTITY = ["1", "0", "0", "0", "1", "0", "0", "0", "1"];
const TOP_10 = 1023;

interface Draft {
  name: string;
  params: Record<string, string>;
  matrix: string[];
  /** Known pairs to check the curve by: code of 10 bits, reflectance %. */
  pairs: { code: string; reflectance: string }[];
}

const idOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 60);
const number = (text: string) => (text.trim() === "" ? undefined : Number(text));

/** The draft as the file it would be, and what is wrong with it by field. */
function parsed({ name, params, matrix }: Draft) {
  const rows = [0, 3, 6].map((at) => matrix.slice(at, at + 3).map(Number));
  const body = {
    format: "pale-halo-encoding",
    version: 1,
    kind: "log",
    id: idOf(name),
    name,
    log: Object.fromEntries(
      FIELDS.map((field) => [field.name, number(params[field.name] ?? "")]).filter(([, value]) => value !== undefined),
    ),
    matrix: rows,
  };
  const result = logEncodingSchema.safeParse(body);
  return result.success
    ? { body: result.data, problem: null }
    : { body: null, problem: result.error.issues.map(({ path, message }) => `${path.join(".")}: ${message}`)[0]! };
}

const toDraft = ({ name, log, matrix }: Extract<OwnEncoding, { kind: "log" }>): Draft => ({
  name,
  params: Object.fromEntries(
    FIELDS.map((field) => [field.name, log[field.name] === undefined ? "" : String(log[field.name])]),
  ),
  matrix: matrix.flat().map(String),
  pairs: [{ code: "", reflectance: "18" }],
});

const download = (body: unknown, name: string) =>
  saveFile(name, `${JSON.stringify(body, null, 1)}\n`, "application/json");

function Pairs({
  draft,
  curve,
  onChange,
}: {
  draft: Draft;
  curve: ReturnType<typeof logTransfer> | null;
  onChange(pairs: Draft["pairs"]): void;
}) {
  const set = (i: number, change: Partial<Draft["pairs"][number]>) =>
    onChange(draft.pairs.map((pair, k) => (k === i ? { ...pair, ...change } : pair)));
  return (
    <table className="table-sm table">
      <thead>
        <tr>
          <th>Reflectance (%)</th>
          <th>Code (10 bits)</th>
          <th>The curve gives</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {draft.pairs.map((pair, i) => {
          const given =
            curve && pair.reflectance.trim() !== "" && Number.isFinite(Number(pair.reflectance))
              ? curve.toCode(Number(pair.reflectance) / 100) * TOP_10
              : null;
          const off = given !== null && pair.code.trim() !== "" ? given - Number(pair.code) : null;
          return (
            <tr key={i}>
              <td>
                <input
                  className="input input-xs figures w-20"
                  aria-label={`Reflectance of pair ${i + 1}, %`}
                  inputMode="decimal"
                  value={pair.reflectance}
                  onChange={(event) => set(i, { reflectance: event.target.value })}
                />
              </td>
              <td>
                <input
                  className="input input-xs figures w-20"
                  aria-label={`Code of pair ${i + 1}`}
                  inputMode="decimal"
                  value={pair.code}
                  onChange={(event) => set(i, { code: event.target.value })}
                />
              </td>
              <td className={`figures whitespace-nowrap ${off !== null && Math.abs(off) > 1 ? "text-warning" : ""}`}>
                {given === null ? "—" : given.toFixed(1)}
                {off !== null && Number.isFinite(off) ? ` (${off >= 0 ? "+" : "−"}${Math.abs(off).toFixed(1)})` : ""}
              </td>
              <td>
                <button
                  type="button"
                  className="btn btn-xs btn-square"
                  aria-label={`Remove pair ${i + 1}`}
                  onClick={() => onChange(draft.pairs.filter((_, k) => k !== i))}
                >
                  <Trash2 size={11} />
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={4}>
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => onChange([...draft.pairs, { code: "", reflectance: "" }])}
            >
              Add a pair
            </button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

function Curve({ curve, pairs }: { curve: ReturnType<typeof logTransfer> | null; pairs: Draft["pairs"] }) {
  const stops = Array.from({ length: 145 }, (_, i) => -10 + i / 8);
  const known = pairs.filter(({ code, reflectance }) => code.trim() !== "" && Number(reflectance) > 0);
  return (
    <Plot
      traces={[
        {
          type: "scatter",
          mode: "lines",
          x: stops,
          y: curve ? stops.map((stop) => curve.toCode(lightAt(stop)) * TOP_10) : [],
          line: { color: "#e8e8e8", width: 1.8 },
          hovertemplate: "%{x:.2f} stops<br>code %{y:.1f}<extra></extra>",
        },
        {
          type: "scatter",
          mode: "markers",
          x: known.map(({ reflectance }) => stopsOf(Number(reflectance) / 100)),
          y: known.map(({ code }) => Number(code)),
          marker: { color: "#fff3dc", size: 8, symbol: "circle-open" },
          hovertemplate: "known: code %{y}<extra></extra>",
        },
      ]}
      x={{ title: "Light (stops from mid-grey)", range: [-10, 8] }}
      y={{ title: "Code value (10 bits)", range: [0, TOP_10] }}
      height={230}
      label="Code value against light"
    />
  );
}

/** Makes, keeps, imports and exports encodings of the user's own: a log curve with a matrix, or a table from a file. */
export function EncodingMaker({ onClose }: { onClose(): void }) {
  const client = useQueryClient();
  const made = useOwnEncodings();
  const [draft, setDraft] = useState<Draft>({
    name: "",
    params: START,
    matrix: IDENTITY,
    pairs: [{ code: "", reflectance: "18" }],
  });
  const file = useRef<HTMLInputElement>(null);
  const { body, problem } = parsed(draft);
  const curve = body ? logTransfer(body.log) : null;
  const refresh = () => {
    void client.invalidateQueries({ queryKey: ["encodings"] });
    void client.invalidateQueries({ queryKey: ["ramp"] });
    void client.invalidateQueries({ queryKey: ["shots"] });
  };
  const attempt = (work: Promise<unknown>, said: string) =>
    work.then(
      () => {
        toast(said);
        refresh();
      },
      (error: Error) => toast.error(error.message),
    );
  const importFile = async (chosen: File) => {
    const text = await chosen.text();
    if (/\.(cube|clf)$/i.test(chosen.name)) {
      const name = chosen.name.replace(/\.[^.]+$/, "");
      return attempt(
        api.keepEncoding({
          format: "pale-halo-encoding",
          version: 1,
          kind: "table",
          id: idOf(name),
          name,
          file: chosen.name,
          text,
          into: "linear-ap1",
        }),
        `“${name}” is kept; its values are taken as working light`,
      );
    }
    let value: unknown;
    try {
      value = JSON.parse(text);
    } catch {
      return toast.error(`${chosen.name}: is not JSON, .cube or .clf`);
    }
    const result = ownEncodingSchema.safeParse(value);
    if (!result.success)
      return toast.error(
        `${chosen.name}: ${result.error.issues.map(({ path, message }) => `${path.join(".") || "format"}: ${message}`)[0]}`,
      );
    if (result.data.kind === "log") setDraft(toDraft(result.data as Extract<OwnEncoding, { kind: "log" }>));
    return attempt(api.keepEncoding(result.data as OwnEncoding), `“${result.data.name}” is kept`);
  };
  const cell = (i: number) => (
    <input
      key={i}
      className="input input-xs figures w-24 px-1 text-right"
      aria-label={`Matrix row ${Math.floor(i / 3) + 1}, column ${(i % 3) + 1}`}
      value={draft.matrix[i]}
      onChange={(event) =>
        setDraft({ ...draft, matrix: draft.matrix.map((value, k) => (k === i ? event.target.value : value)) })
      }
    />
  );
  return (
    <section aria-label="Encodings of your own" className="mb-3 rounded-md border border-line bg-base-200 p-3">
      <div className="mb-2 flex items-center gap-2">
        <h2 className="font-semibold">Encodings of your own</h2>
        <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
          <FileUp size={12} /> Import
        </button>
        <input
          ref={file}
          type="file"
          accept=".json,.cube,.clf"
          className="sr-only"
          tabIndex={-1}
          aria-label="Encoding to import"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) void importFile(chosen);
            event.target.value = "";
          }}
        />
        <span className="text-quiet">JSON, or a .cube or CLF table as the input transform</span>
        <button type="button" className="btn btn-xs ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      {made.length > 0 && (
        <ul className="mb-3 flex flex-wrap gap-2">
          {made.map((entry) => (
            <li key={entry.id} className="flex items-center gap-1 rounded border border-line px-2 py-0.5">
              {entry.kind === "log" ? (
                <button type="button" className="link" onClick={() => setDraft(toDraft(entry))}>
                  {entry.name}
                </button>
              ) : (
                <span>
                  {entry.name} <span className="text-quiet">(table)</span>
                </span>
              )}
              <button
                type="button"
                className="btn btn-xs btn-square"
                aria-label={`Export ${entry.name}`}
                onClick={() =>
                  void api.encoding(entry.id).then(
                    (whole) => download(whole, `${entry.id}.json`),
                    (error: Error) => toast.error(error.message),
                  )
                }
              >
                <Download size={11} />
              </button>
              <button
                type="button"
                className="btn btn-xs btn-square"
                aria-label={`Remove ${entry.name}`}
                onClick={() => void attempt(api.removeEncoding(entry.id), `“${entry.name}” is gone`)}
              >
                <Trash2 size={11} />
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap gap-6">
        <div className="flex flex-col gap-1.5">
          <label className="grid grid-cols-[8.5rem_9rem] items-center">
            Name
            <input
              className="input input-xs"
              maxLength={120}
              value={draft.name}
              onChange={(event) => setDraft({ ...draft, name: event.target.value })}
            />
          </label>
          {FIELDS.map(({ name, label, optional }) => (
            <label key={name} className="grid grid-cols-[8.5rem_9rem] items-center">
              {label}
              <input
                className="input input-xs figures text-right"
                inputMode="decimal"
                placeholder={optional}
                value={draft.params[name] ?? ""}
                onChange={(event) => setDraft({ ...draft, params: { ...draft.params, [name]: event.target.value } })}
              />
            </label>
          ))}
          <label className="grid grid-cols-[8.5rem_9rem] items-center">
            Primaries
            <select
              className="select select-xs"
              value=""
              onChange={(event) => {
                const chosen = PRIMARIES[event.target.value as keyof typeof PRIMARIES];
                if (chosen)
                  setDraft({
                    ...draft,
                    matrix: conversion(chosen, AP1).map((value) => String(Number(value.toFixed(8)))),
                  });
              }}
            >
              <option value="">fill the matrix …</option>
              {Object.keys(PRIMARIES).map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </label>
          <p className="text-quiet">Matrix to working light (AP1)</p>
          <div className="grid w-fit grid-cols-3 gap-1">{draft.matrix.map((_, i) => cell(i))}</div>
        </div>
        <div className="min-w-72 flex-1">
          <Curve curve={curve} pairs={draft.pairs} />
        </div>
        <div>
          <p className="text-quiet">Known pairs, to check the curve by</p>
          <Pairs draft={draft} curve={curve} onChange={(pairs) => setDraft({ ...draft, pairs })} />
        </div>
      </div>
      <div className="mt-2 flex items-center gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={!body}
          onClick={() => body && void attempt(api.keepEncoding(body as OwnEncoding), `“${body.name}” is kept`)}
        >
          Keep it
        </button>
        <button
          type="button"
          className="btn btn-sm"
          disabled={!body}
          onClick={() => body && download(body, `${body.id}.json`)}
        >
          Export
        </button>
        {problem && draft.name !== "" && <span className="text-warning">{problem}</span>}
      </div>
    </section>
  );
}
