"use client";
import { TriangleAlert } from "lucide-react";
import { useState } from "react";
import type { Caution } from "@/core/judge/cautions";
import { PICTURE } from "../view/inspect";
import { setView } from "../view/store";

/** All cautions of the look, closed to their number; each leads to what it speaks of. */
export function CautionList({ cautions }: { cautions: readonly Caution[] }) {
  const [open, setOpen] = useState(false);
  const count = cautions.length;
  return (
    <div className="min-h-6">
      <button
        type="button"
        className={`flex items-center gap-1.5 ${count ? "text-warning" : "text-quiet"}`}
        aria-expanded={open && count > 0}
        disabled={!count}
        onClick={() => setOpen(!open)}
      >
        {count > 0 && <TriangleAlert size={13} aria-hidden />}
        {count === 0 ? "No cautions" : count === 1 ? "1 caution" : `${count} cautions`}
      </button>
      {open && count > 0 && (
        <ul aria-label="Cautions" className="flex flex-col gap-1 pt-1">
          {cautions.map(({ text, element, ends }) => (
            <li key={text}>
              <button
                type="button"
                className="w-full rounded border-l-2 border-warning pl-2 text-left text-warning hover:bg-base-300"
                onClick={() => setView({ selected: element, inspect: ends ? { kind: "ends" } : PICTURE })}
              >
                {text}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
