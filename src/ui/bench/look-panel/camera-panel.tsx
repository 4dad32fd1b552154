"use client";
import { depthLabel } from "@/core/image/image";
import { cornerHeight } from "@/core/frame/geometry";
import { valueAtFrame } from "@/core/look/at-frame";
import { timedAt } from "@/core/look/edit";
import { LENS_NUMBERS } from "@/core/look/ranges";
import { setShown } from "@/core/look/timing";
import { withLens } from "@/core/look/wear";
import { offered } from "@/core/profile/profiles";
import { heldMeasurements } from "@/core/profile/reach";
import { NumberField } from "../../shared/number-field";
import { commit } from "../../shot/document";
import { useShownLook } from "../../shot/shown-look";
import { setView, viewNow } from "../../view/store";
import { Cautions } from "../fields/cautions";
import { isMovedOtherwise } from "../fields/parameters";
import { KeyMark } from "../time/key-mark";
import { TrackList } from "../track/track-list";
import { WhereFields } from "../where/where-fields";
import { DepthFields } from "./depth-fields";
import { LensDataFields } from "./lens-data";
import { TakingFields } from "./taking-fields";
import { ViewFields } from "./view-fields";

/** T-stops on the track, and where a lens says nothing of its own. */
const DEFAULT_STOP = 2.8;
const DEFAULT_STOPS = [1.4, 2, 2.8, 4, 5.6, 8];

/** What is set while no element is selected: the camera, the lens, the view, and where the whole path acts. */
export function CameraPanel() {
  const { shot, look, at, cabinet } = useShownLook();
  const { context } = at;
  const lens = context.lens ?? undefined;
  const lenses = offered(cabinet.lenses.values(), lens?.id);
  const put = (name: string, value: number) =>
    commit((now) => setShown(now, [null, name], value, valueAtFrame(at, [null, name]), viewNow().frame));
  const isMoved = (name: string) => isMovedOtherwise(timedAt(look, [null, name]));
  const row = "grid grid-cols-[7.5rem_1fr] items-center gap-2";
  return (
    <div className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">Camera and lens</h2>
      <p className="text-quiet">
        Pick a piece of glass on the light path to work on it, or{" "}
        <button type="button" className="underline underline-offset-2" onClick={() => setView({ shelf: "looks" })}>
          begin from a look
        </button>
        .
      </p>
      <p className={row}>
        <span>Sensor</span>
        <span className="figures">
          {look.camera.sensor.width} × {look.camera.sensor.height} mm
        </span>
      </p>
      <p className={row}>
        <span>Footage</span>
        <span className="figures">
          {shot.footage.width} × {shot.footage.height}, {depthLabel(shot.footage.depth)}, {shot.encoding}
        </span>
      </p>
      <label className={row}>
        <span>Lens</span>
        <select
          className="select select-xs w-full"
          value={lens?.id ?? ""}
          onChange={(event) => {
            const chosen = cabinet.lenses.get(event.target.value) ?? null;
            commit((now) => withLens(now, chosen, viewNow().frame));
          }}
        >
          <option value="">No lens profile</option>
          {lenses.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <NumberField
        {...LENS_NUMBERS.focalLength}
        value={context.focalLength}
        reset={lens?.focalLengths?.[0] ?? 50}
        logarithmic
        disabled={isMoved("lens.focalLength")}
        beside={<KeyMark path={[null, "lens.focalLength"]} />}
        onChange={(focalLength) => put("lens.focalLength", focalLength)}
      />
      <NumberField
        {...LENS_NUMBERS.stop}
        help={lens?.stops ? `Measured at T${lens.stops.join(", T")}; between them it is interpolated.` : undefined}
        value={context.stop}
        reset={lens?.stops?.[0] ?? DEFAULT_STOP}
        logarithmic
        disabled={isMoved("lens.stop")}
        beside={<KeyMark path={[null, "lens.stop"]} />}
        onChange={(stop) => put("lens.stop", stop)}
      />
      <div role="group" aria-label="Stops that were measured" className="flex flex-wrap gap-1">
        {(lens?.stops ?? DEFAULT_STOPS).map((stop) => (
          <button
            key={stop}
            type="button"
            className={`btn btn-xs figures ${context.stop === stop ? "halo" : ""}`}
            aria-pressed={context.stop === stop}
            disabled={isMoved("lens.stop")}
            onClick={() => put("lens.stop", stop)}
          >
            T{stop}
          </button>
        ))}
      </div>
      <NumberField
        {...LENS_NUMBERS.focusDistance}
        help="Distance the lens is focused on."
        value={context.focusDistance}
        reset={3}
        logarithmic
        disabled={isMoved("lens.focusDistance")}
        beside={<KeyMark path={[null, "lens.focusDistance"]} />}
        onChange={(focusDistance) => put("lens.focusDistance", focusDistance)}
      />
      {lens && (
        <Cautions
          said={Object.values(heldMeasurements(lens, { ...context, corner: cornerHeight(context.geometry) }))}
        />
      )}
      <TakingFields look={look} at={at} cabinet={cabinet} />
      <LensDataFields />
      <DepthFields shot={shot} />
      <ViewFields look={look} />
      <TrackList />
      <WhereFields look={look} id={null} movesLight={false} />
    </div>
  );
}
