"use client";
import { AppWindow, Expand, Redo2, Scan, Undo2 } from "lucide-react";
import type { Look } from "@/core/look/look";
import { CompareBar } from "../compare/compare-bar";
import { useOthers } from "../compare/use-others";
import { ShelfButtons } from "../looks/shelf-buttons";
import { redo, undo, useDocument } from "../shot/document";
import { setView, useView } from "../view/store";
import { WHOLE, type Zoom } from "../viewport/place";
import { ExposureField } from "./exposure-field";
import { InspectField } from "./inspect-field";
import type { ShotDetail } from "../../contract/shots";

const ZOOMS: [Zoom, string][] = [
  ["fit", "Fit"],
  [1, "1:1"],
  [2, "2:1"],
  [4, "4:1"],
];

function SizeButtons() {
  const { looking } = useView("looking");
  return (
    <div role="group" aria-label="Size of the picture" className="join">
      {ZOOMS.map(([value, label]) => (
        <button
          key={label}
          type="button"
          className={`btn btn-xs join-item ${looking.zoom === value ? "btn-primary" : ""}`}
          aria-pressed={looking.zoom === value}
          onClick={() => setView({ looking: value === "fit" ? WHOLE : { ...looking, zoom: value } })}
        >
          {label}
        </button>
      ))}
    </div>
  );
}

function UndoButtons() {
  const canUndo = useDocument((state) => state.past.length > 0);
  const canRedo = useDocument((state) => state.future.length > 0);
  return (
    <>
      <button type="button" className="btn btn-xs btn-square" aria-label="Undo" disabled={!canUndo} onClick={undo}>
        <Undo2 size={13} />
      </button>
      <button type="button" className="btn btn-xs btn-square" aria-label="Redo" disabled={!canRedo} onClick={redo}>
        <Redo2 size={13} />
      </button>
    </>
  );
}

/** Above the picture: how it is looked at, what it is held against, and what stands beside it. */
export function Toolbar({ shot, look }: { shot: ShotDetail; look: Look }) {
  const { corners, scopes, ownWindow } = useView("corners", "scopes", "ownWindow");
  const others = useOthers(shot);
  return (
    <div
      role="toolbar"
      aria-label="Picture"
      className="flex h-9 shrink-0 items-center gap-1.5 border-b border-line px-2 whitespace-nowrap"
    >
      <SizeButtons />
      <ExposureField />
      <button
        type="button"
        className={`btn btn-xs btn-square ${corners.open ? "halo" : ""}`}
        aria-label="Centre and corners"
        title="Centre and corners (C)"
        aria-pressed={corners.open}
        onClick={() => setView({ corners: { ...corners, open: !corners.open } })}
      >
        <Scan size={13} />
      </button>
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label="The picture alone"
        title="The picture alone (Shift F)"
        onClick={() => setView({ pictureAlone: true })}
      >
        <Expand size={13} />
      </button>
      <button
        type="button"
        className={`btn btn-xs btn-square ${ownWindow ? "halo" : ""}`}
        aria-label="The picture in a window of its own"
        title="The picture in a window of its own, for a second screen"
        aria-pressed={ownWindow}
        onClick={() => setView({ ownWindow: !ownWindow })}
      >
        <AppWindow size={13} />
      </button>
      <CompareBar others={others} />
      <InspectField look={look} />
      <div className="ml-auto flex items-center gap-1">
        <UndoButtons />
        <button
          type="button"
          className={`btn btn-xs ${scopes.open ? "halo" : ""}`}
          aria-pressed={scopes.open}
          onClick={() => setView({ scopes: { ...scopes, open: !scopes.open } })}
        >
          Scopes
        </button>
        <ShelfButtons shot={shot} />
      </div>
    </div>
  );
}
