"use client";
import { X } from "lucide-react";
import { setView, type Shelf as Which, useView } from "../view/store";
import { LooksShelf } from "./looks-shelf";
import { StillsShelf } from "./stills-shelf";
import { VersionsShelf } from "./versions-shelf";

export const SHELVES: Record<Which, string> = { looks: "Looks", versions: "Versions", stills: "Stills" };

/** The drawer beside the picture: looks to wear, versions to return to, stills to hold it against. */
export function ShelfDrawer() {
  const { shelf } = useView("shelf");
  if (!shelf) return null;
  const close = () => setView({ shelf: null, preview: null });
  return (
    <aside
      aria-label={SHELVES[shelf]}
      className="flex h-full flex-col gap-2 bg-base-200 p-2"
      onPointerLeave={() => setView({ preview: null })}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        close();
      }}
    >
      <header className="flex items-center">
        <h2 className="text-base font-semibold">{SHELVES[shelf]}</h2>
        <button
          type="button"
          className="btn btn-xs btn-square ml-auto"
          aria-label={`Close ${SHELVES[shelf].toLowerCase()}`}
          onClick={close}
        >
          <X size={13} />
        </button>
      </header>
      {shelf === "looks" && <LooksShelf />}
      {shelf !== "looks" && (
        <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
          {shelf === "versions" ? <VersionsShelf /> : <StillsShelf />}
        </div>
      )}
    </aside>
  );
}
