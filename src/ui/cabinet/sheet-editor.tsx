"use client";
import { useMutation } from "@tanstack/react-query";
import { type ColumnDef, flexRender, getCoreRowModel, useReactTable } from "@tanstack/react-table";
import { type ClipboardEvent, useMemo, useState } from "react";
import { toast } from "sonner";
import { profileSchema, type Profile } from "@/core/profile/profiles";
import { type Sheet, sheetsOf, withSheet } from "@/core/profile/sheets/sheets";
import type { CabinetEntry } from "../../contract/cabinet";
import { api } from "../shared/api";
import { isContrast } from "@/core/profile/sheets/new-sheet";
import { Frequencies, NewTable } from "./new-table";
import { useRefreshedCabinet } from "./refresh";

/** A row of cells as they are typed. */
type Row = string[];

const textOf = (value: number) => String(Number(value.toPrecision(7)));
const rowsOf = ({ rows }: Sheet): Row[] => rows.map((row) => row.map(textOf));
const numberOf = (cell: string) => {
  const text = cell.trim().replace(/^(-?\d*),(\d+)$/, "$1.$2");
  return text === "" ? NaN : Number(text);
};

/** The numbers of a sheet, or the first cell that is none. */
function readRows(rows: readonly Row[], columns: readonly string[]): { rows: number[][] } | { problem: string } {
  const read = rows.map((row) => row.map(numberOf));
  for (const [i, row] of read.entries()) {
    const k = row.findIndex((value) => !Number.isFinite(value));
    if (k >= 0) return { problem: `Row ${i + 1}, ${columns[k]}: “${rows[i]![k]}” is no number` };
  }
  return { rows: read };
}

/** The profile with the sheet as it is typed, or what is wrong with it. */
function readProfile(profile: Profile, sheet: Sheet, rows: readonly Row[]): { profile: Profile } | { problem: string } {
  const numbers = readRows(rows, sheet.columns);
  if ("problem" in numbers) return numbers;
  const read = profileSchema.safeParse(withSheet(profile, { ...sheet, rows: numbers.rows }));
  if (read.success) return { profile: read.data };
  const { path, message } = read.error.issues[0]!;
  return { problem: `${path.join(".")}: ${message}` };
}

/** Cells pasted from a spreadsheet, from a cell onwards; rows are added where there are more. */
function pasted(rows: readonly Row[], text: string, row: number, column: number, width: number): Row[] {
  const cells = text
    .replace(/\r?\n$/, "")
    .split(/\r?\n/)
    .map((line) => line.split("\t"));
  const out = rows.map((one) => [...one]);
  cells.forEach((line, i) => {
    out[row + i] ??= Array.from({ length: width }, () => "");
    line.forEach((cell, k) => {
      if (column + k < width) out[row + i]![column + k] = cell.trim();
    });
  });
  return out;
}

/** A sheet as a table of fields; what is pasted into one goes on over the others. */
function SheetTable({ sheet, rows, onRows }: { sheet: Sheet; rows: Row[]; onRows(rows: Row[]): void }) {
  const columns = useMemo<ColumnDef<Row>[]>(
    () =>
      sheet.columns.map((head, k) => ({
        id: `${k}`,
        header: head,
        accessorFn: (row: Row) => row[k],
        cell: ({ row: { index }, getValue }) => (
          <input
            className="figures w-full min-w-16 bg-transparent px-1 py-0.5 text-right focus:bg-base-300"
            inputMode="decimal"
            aria-label={`${head}, row ${index + 1}`}
            value={(getValue() as string | undefined) ?? ""}
            onChange={({ target: { value } }) =>
              onRows(rows.map((row, i) => (i === index ? row.map((cell, j) => (j === k ? value : cell)) : row)))
            }
            onPaste={(event: ClipboardEvent) => {
              const text = event.clipboardData.getData("text/plain");
              if (!/[\t\n]/.test(text.trim())) return;
              event.preventDefault();
              onRows(pasted(rows, text, index, k, sheet.columns.length));
            }}
          />
        ),
      })),
    [sheet, rows, onRows],
  );
  const table = useReactTable({ data: rows, columns, getCoreRowModel: getCoreRowModel() });
  return (
    <div className="max-h-72 overflow-auto rounded-md border border-line">
      <table className="table-sm w-full" aria-label={sheet.title}>
        <thead className="sticky top-0 bg-base-200">
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id}>
              {group.headers.map((header) => (
                <th key={header.id} className="px-1 py-1 text-right font-normal whitespace-nowrap text-quiet">
                  {flexRender(header.column.columnDef.header, header.getContext())}
                </th>
              ))}
            </tr>
          ))}
        </thead>
        <tbody>
          {table.getRowModel().rows.map((row) => (
            <tr key={row.id} className="border-t border-line">
              {row.getVisibleCells().map((cell) => (
                <td key={cell.column.id}>{flexRender(cell.column.columnDef.cell, cell.getContext())}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The tables of one's own profile, edited; the charts beside them show what is typed as soon as it can be read. */
export function SheetEditor({ entry, onShown }: { entry: CabinetEntry; onShown(profile: Profile | null): void }) {
  const { profile, revision } = entry;
  const refresh = useRefreshedCabinet();
  const [draft, setDraft] = useState(profile);
  const sheets = sheetsOf(draft);
  const [chosen, setChosen] = useState(sheets[0]?.id ?? "");
  const sheet = sheets.find(({ id }) => id === chosen) ?? sheets[0];
  const [typed, setTyped] = useState<Row[] | null>(null);
  const rows = typed ?? (sheet ? rowsOf(sheet) : []);
  const [problem, setProblem] = useState<string | null>(null);
  const put = (next: Row[]) => {
    setTyped(next);
    const read = readProfile(draft, sheet!, next);
    setProblem("problem" in read ? read.problem : null);
    if ("profile" in read) onShown(read.profile);
  };
  /** What is typed becomes part of the draft; false where it cannot be read. */
  const take = (): Profile | null => {
    if (!typed || !sheet) return draft;
    const read = readProfile(draft, sheet, typed);
    if ("problem" in read) {
      toast.error(read.problem);
      return null;
    }
    setDraft(read.profile);
    setTyped(null);
    return read.profile;
  };
  const save = useMutation({
    mutationFn: (next: Profile) => api.changeProfile({ ...next, id: profile.id }, revision),
    onSuccess: async ({ revision: now }) => {
      await refresh();
      onShown(null);
      toast(`Kept as revision ${now}`);
    },
  });
  const isChanged = typed !== null || draft !== profile;
  return (
    <section aria-label="Edit" className="mb-3 flex flex-col gap-2 rounded-md border border-line bg-base-200 p-3">
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-2">
          Name
          <input
            className="input input-xs w-52"
            value={draft.name}
            maxLength={120}
            onChange={({ target: { value } }) => value && setDraft({ ...draft, name: value })}
          />
        </label>
        <label className="flex items-center gap-2">
          Table
          <select
            aria-label="Table"
            className="select select-xs w-72"
            value={sheet?.id ?? ""}
            onChange={({ target: { value } }) => {
              if (take()) setChosen(value);
            }}
          >
            {sheets.map(({ id, title }) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </select>
        </label>
        <span className="ml-auto text-quiet">Revision {revision}</span>
        <button
          type="button"
          className="btn btn-xs btn-primary"
          disabled={!isChanged || save.isPending || problem !== null}
          onClick={() => {
            const next = take();
            if (next) save.mutate(next);
          }}
        >
          Keep the changes
        </button>
      </div>
      {draft.format === "pale-halo-lens" && (
        <NewTable
          lens={draft}
          onAdd={(added) => {
            const next = take();
            if (!next) return;
            const whole = profileSchema.parse(withSheet(next, added));
            setDraft(whole);
            onShown(whole);
            setChosen(added.id);
          }}
        />
      )}
      {sheet && <SheetTable sheet={sheet} rows={rows} onRows={put} />}
      {sheet && isContrast(sheet) && (
        <Frequencies
          sheet={sheet}
          onSheet={(changed) => {
            const next = take();
            if (!next) return;
            const whole = profileSchema.parse(withSheet(next, changed));
            setDraft(whole);
            onShown(whole);
          }}
        />
      )}
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => put([...rows, Array.from({ length: sheet!.columns.length }, () => "")])}
        >
          Add a row
        </button>
        <button type="button" className="btn btn-xs" disabled={rows.length < 2} onClick={() => put(rows.slice(0, -1))}>
          Take the last row off
        </button>
        {problem ? (
          <span role="alert" className="text-warning">
            {problem}
          </span>
        ) : (
          <span className="text-quiet">Cells copied from a spreadsheet can be pasted into the first of them.</span>
        )}
      </div>
    </section>
  );
}
