"use client";
import { ENCODINGS } from "@/core/colour/encodings";
import type { RenderOrder } from "../../contract/renders";
import { useOwnEncodings } from "../shared/encodings";

export type CarriedOn = NonNullable<RenderOrder["carried"]>;

/** How what is rendered is encoded; `own`: what it is where nothing else is chosen. */
export function EncodedAs({ value, own, onChange }: { value: string; own: string; onChange(value: string): void }) {
  const made = useOwnEncodings();
  return (
    <label className="flex flex-col">
      Encoded as
      <select className="select select-sm w-52" value={value} onChange={({ target }) => onChange(target.value)}>
        <option value="">{own}</option>
        {ENCODINGS.map(({ name, label }) => (
          <option key={name} value={name}>
            {label}
          </option>
        ))}
        {made
          .filter(({ kind }) => kind === "log")
          .map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
      </select>
    </label>
  );
}

/** What goes on of an EXR's other layers, and of light beyond the frame. */
export function CarriedFields({ value, onChange }: { value: CarriedOn; onChange(value: CarriedOn): void }) {
  return (
    <>
      <label className="flex flex-col">
        Other layers
        <select
          className="select select-sm w-44"
          value={value.layers}
          onChange={({ target }) => onChange({ ...value, layers: target.value as CarriedOn["layers"] })}
        >
          <option value="warp">moved as the picture is</option>
          <option value="keep">as they are</option>
          <option value="drop">left out</option>
        </select>
      </label>
      <label className="flex flex-col">
        Beyond the frame
        <select
          className="select select-sm w-36"
          value={value.overscan}
          onChange={({ target }) => onChange({ ...value, overscan: target.value as CarriedOn["overscan"] })}
        >
          <option value="crop">cropped</option>
          <option value="keep">kept (overscan)</option>
        </select>
      </label>
    </>
  );
}
