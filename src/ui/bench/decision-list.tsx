"use client";
import { Download, FileUp } from "lucide-react";
import { useRef } from "react";
import { toast } from "sonner";
import type { Values } from "@/core/elements/definition";
import { setAll } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { whiteGains } from "@/core/colour/daylight";
import { api } from "../shared/api";
import { saveFile } from "../shared/download";
import { useBench } from "./store";

type Triple = [number, number, number];

/** Brings an ASC CDL correction into a trim (`values`: its own, at the frame that is shown), and takes one out of it. Exposure and white go out as slope; balance and vibrance have no place in it. */
export function DecisionList({ look, id, values }: { look: Look; id: string; values: Values }) {
  const { change, frame } = useBench();
  const file = useRef<HTMLInputElement>(null);
  const read = async (chosen: File) => {
    try {
      const all = await api.readCorrections(chosen.name, await chosen.text());
      const { id: name, slope, offset, power, saturation } = all[0]!;
      const values = { strength: 1, exposure: 0, temperature: 0, tint: 0, slope, offset, power, saturation };
      const set = Object.entries(values).map(([parameter, value]) => [[id, parameter], value] as const);
      change(setAll(look, set, frame));
      toast(all.length > 1 ? `Correction “${name}”, the first of ${all.length}` : `Correction “${name}”`);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const write = async (kind: "ccc" | "cdl") => {
    const white = whiteGains(values.temperature as number, values.tint as number);
    const slope = (values.slope as Triple).map(
      (value, i) => value * 2 ** (values.exposure as number) * white[i]!,
    ) as Triple;
    const { text } = await api.writeCorrections(kind, [
      {
        id: look.name,
        slope,
        offset: values.offset as Triple,
        power: values.power as Triple,
        saturation: values.saturation as number,
      },
    ]);
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
