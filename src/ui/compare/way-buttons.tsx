"use client";
import { Columns2, Diff, type LucideIcon, SplitSquareHorizontal } from "lucide-react";
import { DIFFERENCE_TIMES, type Way } from "../view/compare";

const WAYS: readonly { way: Way; label: string; Icon: LucideIcon }[] = [
  { way: "wipe", label: "Wipe", Icon: SplitSquareHorizontal },
  { way: "side", label: "Side by side", Icon: Columns2 },
  { way: "difference", label: "Difference", Icon: Diff },
];

/** How two pictures are seen together, and how strongly their difference is. */
export function WayButtons({
  way,
  times,
  onWay,
  onTimes,
}: {
  /** Null: they are not. */
  way: Way | null;
  times: number;
  onWay(way: Way): void;
  onTimes(times: number): void;
}) {
  return (
    <>
      {WAYS.map(({ way: entry, label, Icon }) => (
        <button
          key={entry}
          type="button"
          className={`btn btn-xs btn-square ${way === entry ? "halo" : ""}`}
          aria-label={label}
          aria-pressed={way === entry}
          title={label}
          onClick={() => onWay(entry)}
        >
          <Icon size={13} />
        </button>
      ))}
      {way === "difference" && (
        <select
          className="select select-xs w-16"
          aria-label="Difference, times"
          value={times}
          onChange={({ target }) => onTimes(Number(target.value))}
        >
          {DIFFERENCE_TIMES.map((value) => (
            <option key={value} value={value}>
              × {value}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
