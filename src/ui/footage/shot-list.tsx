"use client";
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  type SortingState,
  useReactTable,
} from "@tanstack/react-table";
import Link from "next/link";
import { useMemo, useState } from "react";
import { countOf } from "@/core/frame/ranges";
import { depthLabel } from "@/core/image/image";
import { useEncodingLabel } from "../shared/encodings";
import { shotTitle } from "../shared/production";
import { framesLabel, Scrubbed } from "./contact-sheet";
import type { Shot } from "../../contract/shots";

const column = createColumnHelper<Shot>();

/** Shots as rows; a column's head sorts by it. */
export function ShotList({
  shots,
  selected,
  onSelect,
}: {
  shots: Shot[];
  selected: ReadonlySet<string>;
  onSelect(id: string, more: boolean): void;
}) {
  const encodingLabel = useEncodingLabel();
  const [sorting, setSorting] = useState<SortingState>([]);
  const columns = useMemo(
    () => [
      column.accessor(shotTitle, {
        id: "shot",
        header: "Shot",
        cell: ({ row: { original } }) => (
          <Link prefetch={false} href={`/bench/${original.id}`} className="font-semibold hover:underline">
            {shotTitle(original)}
          </Link>
        ),
      }),
      column.accessor((shot) => countOf(shot.frames), {
        id: "frames",
        header: "Frames",
        cell: ({ row: { original } }) => framesLabel(original),
      }),
      column.accessor((shot) => shot.footage.width * shot.footage.height, {
        id: "size",
        header: "Size (px)",
        cell: ({
          row: {
            original: { footage },
          },
        }) => `${footage.width} × ${footage.height}`,
      }),
      column.accessor((shot) => `${shot.footage.format} ${depthLabel(shot.footage.depth)}`, {
        id: "format",
        header: "Format",
      }),
      column.accessor((shot) => encodingLabel(shot.encoding), { id: "encoding", header: "Encoding" }),
      column.accessor((shot) => shot.sensorWidth * shot.sensorHeight, {
        id: "sensor",
        header: "Sensor (mm)",
        cell: ({ row: { original } }) =>
          `${original.sensorWidth} × ${original.sensorHeight}${original.squeeze === 1 ? "" : `, ${original.squeeze}×`}`,
      }),
      column.accessor("frameRate", { header: "Rate (fps)", cell: ({ getValue }) => Number(getValue().toFixed(3)) }),
      column.accessor("notes", { header: "Notes" }),
    ],
    [encodingLabel],
  );
  const table = useReactTable({
    data: shots,
    columns,
    state: { sorting },
    onSortingChange: setSorting,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  return (
    <table className="table-sm table" aria-label="Shots">
      <thead>
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id}>
            <th className="w-8" />
            <th className="w-24" />
            {group.headers.map((header) => (
              <th
                key={header.id}
                aria-sort={
                  { asc: "ascending" as const, desc: "descending" as const, false: "none" as const }[
                    String(header.column.getIsSorted())
                  ]
                }
              >
                <button
                  type="button"
                  className="cursor-pointer whitespace-nowrap"
                  onClick={header.column.getToggleSortingHandler()}
                >
                  {flexRender(header.column.columnDef.header, header.getContext())}
                  <span aria-hidden>{{ asc: " ↑", desc: " ↓", false: "" }[String(header.column.getIsSorted())]}</span>
                </button>
              </th>
            ))}
          </tr>
        ))}
      </thead>
      <tbody>
        {table.getRowModel().rows.map(({ id, original, getVisibleCells }) => (
          <tr key={id} className={selected.has(original.id) ? "halo" : ""}>
            <td>
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                aria-label={`Add ${shotTitle(original)} to the selection`}
                checked={selected.has(original.id)}
                onChange={() => onSelect(original.id, true)}
              />
            </td>
            <td>
              <button
                type="button"
                className="block w-24 cursor-pointer"
                aria-label={`Select ${shotTitle(original)}`}
                onClick={(event) => onSelect(original.id, event.shiftKey || event.ctrlKey || event.metaKey)}
              >
                {original.progress > 0.99 ? (
                  <Scrubbed shot={original} />
                ) : (
                  <span className="text-quiet">{Math.round(100 * original.progress)} %</span>
                )}
              </button>
            </td>
            {getVisibleCells().map((cell) => (
              <td
                key={cell.id}
                className={["shot", "encoding", "notes"].includes(cell.column.id) ? "" : "figures whitespace-nowrap"}
              >
                {flexRender(cell.column.columnDef.cell, cell.getContext())}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
