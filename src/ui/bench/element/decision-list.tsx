"use client";
import { Download, FileUp } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import type { Correction } from "@/core/colour/correction";
import type { ElementState } from "@/core/elements/definition";
import { decisionList } from "@/core/elements/trim/decision-list";
import { setAll } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { api } from "../../shared/api";
import { saveFile } from "../../shared/download";
import { commitLater } from "../../shot/document";
import { viewNow } from "../../view/store";

/** The encoding a correction was made in, unless another is said. */
const MADE_IN = "acescct";

/** Brings an ASC CDL correction into a trim (as it is at the frame that is shown), and takes one out of it. */
export function DecisionList({ look, id, state }: { look: Look; id: string; state: ElementState }) {
  const { strength, values } = state;
  const file = useRef<HTMLInputElement>(null);
  const read = async (chosen: File) => {
    const change = commitLater();
    try {
      const all = await api.readCorrections(chosen.name, await chosen.text());
      const { id: name, slope, offset, power, saturation } = all[0]!;
      const list = { space: MADE_IN, slope, offset, power, saturation };
      const values = { strength: 1, exposure: 0, temperature: 0, tint: 0, ...list };
      const set = Object.entries(values).map(([parameter, value]) => [[id, parameter], value] as const);
      change((now) => setAll(now, set, viewNow().frame));
      toast(all.length > 1 ? `Correction “${name}”, the first of ${all.length}` : `Correction “${name}”`);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const write = async (kind: "ccc" | "cdl") => {
    const { list, leftOut } = decisionList(values as Parameters<typeof decisionList>[0], strength);
    const { slope, offset, power, saturation } = list;
    const correction = { id: look.name, slope: [...slope], offset: [...offset], power: [...power], saturation };
    const { text } = await api.writeCorrections(kind, [correction as Correction]);
    if (leftOut.length) toast(`Left out: ${leftOut.join("; ")}`);
    saveFile(`${look.name}.${kind}`, text, "application/xml");
  };
  return (
    <div role="group" aria-label="ASC CDL" className="flex items-center gap-1">
      <span className="text-quiet">ASC CDL</span>
      <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
        <FileUp size={12} /> Bring in
      </button>
      {(["ccc", "cdl"] as const).map((kind) => (
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
