"use client";
import { useMutation } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import type { LeftOut } from "@/core/export/tonal-part";
import { TABLE_SIZES, type TableError, type TableSize } from "@/core/export/tonal-table";
import { TABLE_FORMATS, type TableFormat } from "@/contract/export";
import { api } from "../../shared/api";
import { saveFile } from "../../shared/download";
import { EncodingSelect } from "../../shared/encodings";
import { useShownLook } from "../../shot/shown-look";
import { viewNow } from "../../view/store";

const row = "grid grid-cols-[7.5rem_1fr] items-center gap-2";
const FORMAT_WORDS: Record<TableFormat, string> = { cube: ".cube", clf: "CLF" };

const told = ({ mean, largest, withinThree }: TableError) =>
  `mean ${mean.toFixed(2)}, ${(100 * withinThree).toFixed(1)} % within 3, largest ${largest.toFixed(1)} of 1023`;

const labelsOf = (elements: readonly LeftOut[]) => elements.map(({ label }) => label).join(", ");

/**
 * Writes the part of the look that depends on no neighbour as a table; says what it leaves out, and how near it comes.
 */
export function ExportTable() {
  const { shot, look } = useShownLook();
  const [format, setFormat] = useState<TableFormat>("cube");
  const [size, setSize] = useState<TableSize>(33);
  const [input, setInput] = useState("acescct");
  const [throughView, setThroughView] = useState(true);
  const making = useMutation({
    meta: { showsItsError: true },
    mutationFn: () => api.exportTable(shot.id, { look, format, size, input, throughView, frame: viewNow().frame }),
    onSuccess: ({ text }) => saveFile(`${shot.id} ${look.name}, tonal part.${format}`, text, "text/plain"),
  });
  const made = making.data;
  return (
    <Popover.Root>
      <Popover.Trigger className="btn btn-xs">
        <Download size={12} /> Export as a table
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          collisionPadding={8}
          className="z-40 flex max-h-(--radix-popover-content-available-height) w-96 flex-col gap-2 overflow-y-auto rounded-md border border-line bg-base-200 p-3 shadow-xl"
          aria-label="Export as a table"
        >
          <p className="text-quiet">What depends on no neighbour of a pixel: tone, colour and the view.</p>
          <label className={row}>
            <span>Format</span>
            <select
              className="select select-xs w-full"
              value={format}
              onChange={(event) => setFormat(event.target.value as TableFormat)}
            >
              {TABLE_FORMATS.map((entry) => (
                <option key={entry} value={entry}>
                  {FORMAT_WORDS[entry]}
                </option>
              ))}
            </select>
          </label>
          <label className={row}>
            <span>Entries a side</span>
            <select
              className="select select-xs w-full"
              value={size}
              onChange={(event) => setSize(Number(event.target.value) as TableSize)}
            >
              {TABLE_SIZES.map((entry) => (
                <option key={entry}>{entry}</option>
              ))}
            </select>
          </label>
          <div className={row}>
            <span>Takes in</span>
            <EncodingSelect label="Takes in" value={input} mixed={false} onChange={setInput} />
          </div>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={throughView}
              onChange={(event) => setThroughView(event.target.checked)}
            />
            Through the view, as the picture is shown
          </label>
          <button
            type="button"
            className="btn btn-xs btn-primary self-start"
            disabled={making.isPending}
            onClick={() => making.mutate()}
          >
            {making.isPending ? "Making and measuring it …" : "Make the table"}
          </button>
          {making.error && (
            <p role="alert" className="text-warning">
              {making.error.message}
            </p>
          )}
          {made && (
            <div role="status" aria-label="How near the table comes" className="flex flex-col gap-1">
              {made.frame && <p>Over this frame: {told(made.frame)}.</p>}
              <p>Over a lattice twice as fine: {told(made.lattice)}.</p>
              {made.leftOut.length > 0 && (
                <>
                  <p className="text-quiet">Left out:</p>
                  <ul className="flex flex-col" aria-label="Left out of the table">
                    {[...new Set(made.leftOut.map(({ why }) => why))].map((why) => (
                      <li key={why}>
                        {labelsOf(made.leftOut.filter((entry) => entry.why === why))}: {why}
                      </li>
                    ))}
                  </ul>
                </>
              )}
            </div>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
