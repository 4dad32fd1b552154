"use client";
import { FileUp } from "lucide-react";
import Link from "next/link";
import { useMemo, useRef, useState } from "react";
import { Chart, INKS, line } from "../../cabinet/chart";
import { LensSheet } from "../../cabinet/lens-sheet";
import { NumberInput } from "../../shared/number-input";
import { KeepProfile } from "../keep-profile";
import { CurveList } from "./curve-list";
import { PagePicture } from "./page-picture";
import { lensFromPage, readCurve } from "./read-curves";
import { type AxisName, usePrinted } from "./session";
import { usePageFile } from "./page-file";

const AXIS_WORDS: Record<AxisName, string> = { x: "Level axis", y: "Upright axis" };

/** What the two marks of an axis stand for. */
function AxisFields({ axis }: { axis: AxisName }) {
  const { axes, setAxis, setMark } = usePrinted();
  const { scale, from, to } = axes[axis];
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <span className="w-24">{AXIS_WORDS[axis]}</span>
      <NumberInput
        label={`${axis} at its first mark`}
        value={from.value}
        min={-1e6}
        max={1e6}
        step={1}
        unit="to"
        onSave={(value) => value !== null && setMark(axis, "from", { value })}
      />
      <NumberInput
        label={`${axis} at its second mark`}
        value={to.value}
        min={-1e6}
        max={1e6}
        step={1}
        unit=""
        onSave={(value) => value !== null && setMark(axis, "to", { value })}
      />
      <label className="flex items-center gap-1 text-quiet">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={scale === "log"}
          onChange={({ target: { checked } }) => setAxis(axis, { scale: checked ? "log" : "linear" })}
        />
        logarithmic
      </label>
    </div>
  );
}

/** A lens from a printed page: its axes are marked, its curves followed, and what they come to is kept. */
export function PrintedView() {
  const { name, axes, curves, page, chosen, setName } = usePrinted();
  const { take, turnTo, clear, isReading } = usePageFile();
  const input = useRef<HTMLInputElement>(null);
  const [isPointing, setPointing] = useState(false);
  const read = useMemo(
    () => curves.map((curve) => (page ? readCurve(page.page, axes, curve) : null)),
    [curves, page, axes],
  );
  const made = useMemo(() => lensFromPage(name, axes, curves, read), [name, axes, curves, read]);
  const curve = curves.findIndex(({ id }) => id === chosen);
  const own = read[curve];
  return (
    <div
      className="grid h-full grid-cols-[300px_minmax(0,1fr)_370px]"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        take(event.dataTransfer.files[0]);
      }}
    >
      <aside aria-label="The page" className="flex min-h-0 flex-col gap-3 overflow-y-auto border-r border-line p-3">
        <Link className="underline underline-offset-2" href="/chart-room">
          From frames of charts instead
        </Link>
        <input
          ref={input}
          type="file"
          accept="image/png,image/jpeg,application/pdf"
          hidden
          aria-label="A picture of the page"
          onChange={(event) => {
            take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <button
          type="button"
          className="flex items-center justify-center gap-2 rounded-md border border-dashed border-line px-2 py-3 text-quiet hover:text-base-content"
          onClick={() => input.current?.click()}
        >
          <FileUp size={14} /> {isReading ? "Reading the page" : "Drop a PNG, JPEG or PDF of the page"}
        </button>
        {page && (
          <p className="truncate" title={page.name}>
            {page.name}
            {page.pages > 1 && `, page ${page.number} of ${page.pages}`}
          </p>
        )}
        {page && page.pages > 1 && (
          <label className="flex items-center gap-2">
            Turn to
            <NumberInput
              label="Page of the file"
              value={page.number}
              min={1}
              max={page.pages}
              step={1}
              unit=""
              onSave={(value) => value && turnTo(Math.round(value))}
            />
          </label>
        )}
        {page && (
          <>
            <p className="text-quiet">
              Drag the four marks to places on the axes whose values are printed, and say which values.
            </p>
            <AxisFields axis="x" />
            <AxisFields axis="y" />
            <CurveList read={read} isPointing={isPointing} onPoint={setPointing} />
            <button type="button" className="btn btn-xs self-start" onClick={clear}>
              Begin anew
            </button>
          </>
        )}
      </aside>
      <section aria-label="The page’s picture" className="flex min-h-0 min-w-0 flex-col">
        {page ? (
          <PagePicture page={page} read={read} isPointing={isPointing} onPointed={() => setPointing(false)} />
        ) : (
          <div className="mx-auto mt-14 flex max-w-xl flex-col gap-3 px-6">
            <h1 className="text-lg font-semibold">A lens from a printed page</h1>
            <p>
              Most lenses come with their curves on paper. Drop a picture of such a page: mark its two axes, say what
              each curve shows, and press on its line. It is followed over dashes and crossings; any place of it can be
              dragged.
            </p>
            <p className="text-quiet">
              Contrast at frequencies that were not printed is computed as a sum of two Gaussians through those that
              were, and says so.
            </p>
          </div>
        )}
      </section>
      <aside aria-label="What was read" className="flex min-h-0 flex-col border-l border-line">
        <div className="min-h-0 flex-1 overflow-y-auto p-3">
          {own && "read" in own && (
            <Chart
              title="The curve"
              note={`within ±${Math.max(...own.read.uncertainty).toPrecision(2)} of the upright axis`}
              x={{ title: "Level axis" }}
              y={{ title: "Upright axis" }}
              traces={[line(own.read.x, own.read.y, "read", INKS[0]!)]}
            />
          )}
          {"profile" in made && (
            <div className="mt-3 [&>div:last-child]:grid-cols-1">
              <LensSheet lens={made.profile} />
            </div>
          )}
        </div>
        <div className="flex flex-col gap-2 border-t border-line p-3">
          <label className="grid grid-cols-[6.4rem_1fr] items-center gap-2">
            <span>Name</span>
            <input
              className="input input-xs w-full"
              value={name}
              maxLength={100}
              onChange={({ target: { value } }) => setName(value)}
            />
          </label>
          <KeepProfile made={made} />
        </div>
      </aside>
    </div>
  );
}
