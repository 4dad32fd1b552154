"use client";
import { Download, FileUp } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import type { ElementState } from "@/core/elements/definition";
import type { Trim } from "@/core/elements/trim/parameters";
import { correctionOf, withCorrection } from "@/core/look/correction";
import type { Look } from "@/core/look/look";
import { api } from "../../shared/api";
import { saveFile } from "../../shared/download";
import { commitLater } from "../../shot/document";
import { viewNow } from "../../view/store";

const KINDS = ["cdl", "ccc", "cc"] as const;

/** Brings an ASC CDL correction into a trim (as it is at the frame that is shown), and takes one out of it. */
export function DecisionList({ look, id, state }: { look: Look; id: string; state: ElementState }) {
  const { strength, values } = state;
  const file = useRef<HTMLInputElement>(null);
  const read = async (chosen: File) => {
    const change = commitLater();
    try {
      const all = await api.readCorrections(chosen.name, await chosen.text());
      const first = all[0]!;
      change((now) => withCorrection(now, id, first, viewNow().frame));
      toast(all.length > 1 ? `Correction “${first.id}”, the first of ${all.length}` : `Correction “${first.id}”`);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const write = async (kind: (typeof KINDS)[number]) => {
    const { correction, leftOut } = correctionOf(look.name, values as unknown as Trim, strength);
    const { text } = await api.writeCorrections(kind, [correction]);
    if (leftOut.length) toast(`Left out: ${leftOut.join("; ")}`);
    saveFile(`${look.name}.${kind}`, text, "application/xml");
  };
  return (
    <div role="group" aria-label="ASC CDL" className="flex items-center gap-1">
      <span className="text-quiet">ASC CDL</span>
      <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
        <FileUp size={12} /> Bring in
      </button>
      {KINDS.map((kind) => (
        <button
          key={kind}
          type="button"
          className="btn btn-xs"
          onClick={() => void write(kind).catch((error: Error) => toast.error(error.message))}
        >
          <Download size={12} /> .{kind}
        </button>
      ))}
      <input
        ref={file}
        type="file"
        accept=".cdl,.ccc,.cc"
        className="sr-only"
        tabIndex={-1}
        aria-label="Correction to bring in"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) void read(chosen);
          event.target.value = "";
        }}
      />
    </div>
  );
}
