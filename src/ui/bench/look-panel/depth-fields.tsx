"use client";
import type { DepthPlate } from "@/core/frame/depth-plate";
import { NumberField } from "../../shared/number-field";
import { FootageField } from "../fields/controls";
import { commitDepth, useDocument } from "../../shot/document";
import type { ShotDetail } from "../../../contract/shots";

const FARTHEST_TYPED = 1000;
/** What a plate of distances begins as: values are metres; one of nearness covers a street. */
const BEGINS: Record<DepthPlate["reads"], Omit<DepthPlate, "footage">> = {
  distance: { reads: "distance", near: 0, far: 1 },
  nearness: { reads: "nearness", near: 1, far: 100 },
};

/** Where distances come from: the footage's own depth channel, or another shot that holds them. */
export function DepthFields({ shot }: { shot: ShotDetail }) {
  const depth = useDocument((state) => state.depth);
  const { hasDepth } = shot;
  const set = (next: Partial<DepthPlate>) => commitDepth({ ...depth!, ...next });
  return (
    <>
      <FootageField
        parameter={{
          label: "Depth",
          help: "Where distances come from: the footage’s own depth channel, or another shot whose first channel holds them.",
        }}
        none={hasDepth ? "Its own channel" : "None"}
        value={depth?.footage ?? ""}
        onChange={(footage) => commitDepth(footage ? { ...(depth ?? BEGINS.distance), footage } : null)}
      />
      {depth && (
        <>
          <label className="grid grid-cols-[7.5rem_1fr] items-center gap-2">
            <span>Values are</span>
            <select
              className="select select-xs w-full"
              value={depth.reads}
              onChange={(event) => set(BEGINS[event.target.value as DepthPlate["reads"]])}
            >
              <option value="distance">Distance, even in metres</option>
              <option value="nearness">Nearness, brighter is nearer</option>
            </select>
          </label>
          <NumberField
            label={depth.reads === "distance" ? "Distance at 0" : "Distance at 1"}
            help="The near end."
            unit="m"
            value={depth.near}
            min={depth.reads === "distance" ? 0 : 0.1}
            max={Math.max(0.1, depth.far - 0.1)}
            step={0.1}
            reset={BEGINS[depth.reads].near}
            onChange={(near) => set({ near })}
          />
          <NumberField
            label={depth.reads === "distance" ? "Distance at 1" : "Distance at 0"}
            help="The far end. With 0 at the near end and 1 here, values are metres as they stand."
            unit="m"
            value={depth.far}
            min={depth.near + 0.1}
            max={FARTHEST_TYPED}
            step={0.1}
            reset={BEGINS[depth.reads].far}
            onChange={(far) => set({ far })}
          />
        </>
      )}
    </>
  );
}
