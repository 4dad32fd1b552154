"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { api } from "../shared/api";
import { lookDocument, useDocument } from "./document";
import type { ShotDetail } from "../../contract/shots";

/** Two windows changed one look: the user says which is to stand, and the other becomes a version. */
export function ConflictBar({ shot }: { shot: ShotDetail }) {
  const look = useDocument((state) => state.look);
  const conflict = useDocument((state) => state.conflict);
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  if (!conflict || !look) return null;
  const choose = async (which: "mine" | "theirs") => {
    setBusy(true);
    try {
      const other = which === "mine" ? conflict.look : look;
      const kept = await api.keepVersion(shot.id, other, which === "mine" ? "From another window" : "From this window");
      // Another shot may be open by now, with a conflict of its own.
      if (lookDocument.store.getState().conflict === conflict) lookDocument.settle(which);
      toast(`The other look is kept as version ${kept.number}, “${kept.name}”`);
      await client.invalidateQueries({ queryKey: ["shot", shot.id] });
    } catch (error) {
      toast.error((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div
      role="alert"
      className="flex h-9 shrink-0 items-center gap-2 border-b border-line bg-base-300 px-3 whitespace-nowrap"
    >
      <span>This look was changed in another window while you changed it here.</span>
      <button type="button" className="btn btn-xs ml-auto" disabled={busy} onClick={() => void choose("theirs")}>
        Take the other; keep mine as a version
      </button>
      <button type="button" className="btn btn-xs" disabled={busy} onClick={() => void choose("mine")}>
        Go on with mine; keep the other as a version
      </button>
    </div>
  );
}
