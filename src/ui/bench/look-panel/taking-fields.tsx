"use client";
import { takingCautions } from "@/core/judge/taking";
import type { Look } from "@/core/look/look";
import type { LookAtFrame } from "@/core/look/at-frame";
import { lacksFor, type Taking, takingFor, TAKING_PARTS, type TakingPart, withTaking } from "@/core/look/taking";
import { LENS_NUMBERS } from "@/core/look/ranges";
import { type Cabinet, offered } from "@/core/profile/profiles";
import { NumberField } from "../../shared/number-field";
import { commit } from "../../shot/document";
import { Cautions } from "../fields/cautions";

const PART_WORDS: Record<TakingPart, string> = {
  transmission: "Colour",
  illumination: "Fall-off",
  distortion: "Distortion",
  lateralColour: "Lateral colour",
  contrast: "Contrast",
};

/** The lens the footage was shot through: how much of each part of it is taken off, before the path begins. */
export function TakingFields({ look, at, cabinet }: { look: Look; at: LookAtFrame; cabinet: Cabinet }) {
  const { taking } = look.camera;
  const lens = taking && cabinet.lenses.get(taking.profile);
  const put = (change: Partial<Taking>) => commit((now) => withTaking(now, { ...now.camera.taking!, ...change }));
  const choose = (id: string) => {
    const chosen = cabinet.lenses.get(id);
    commit((now) => withTaking(now, chosen ? { ...now.camera.taking, ...takingFor(chosen) } : undefined));
  };
  const lacks = lens ? lacksFor(lens) : [];
  return (
    <section aria-label="Taking lens" className="flex flex-col gap-1.5">
      <label className="grid grid-cols-[7.5rem_1fr] items-center gap-2">
        <span title="The lens the footage was shot through. It is taken off before the path begins.">Taking lens</span>
        <select
          className="select select-xs w-full"
          value={taking?.profile ?? ""}
          onChange={({ target: { value } }) => choose(value)}
        >
          <option value="">Is left on</option>
          {offered(cabinet.lenses.values(), taking?.profile).map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {taking && (
        <>
          <NumberField
            {...LENS_NUMBERS.focalLength}
            label="Taken at"
            help="Focal length the footage was shot at."
            value={taking.focalLength}
            reset={lens?.focalLengths?.[0] ?? taking.focalLength}
            logarithmic
            onChange={(focalLength) => put({ focalLength })}
          />
          <NumberField
            {...LENS_NUMBERS.stop}
            label="Taken at stop"
            help="Stop the footage was shot at."
            value={taking.stop}
            reset={lens?.stops?.[0] ?? taking.stop}
            logarithmic
            onChange={(stop) => put({ stop })}
          />
          {TAKING_PARTS.map((part) => (
            <NumberField
              key={part}
              label={PART_WORDS[part]}
              help={
                lacks.includes(part)
                  ? "The lens has no table for it."
                  : "How much of it is taken off: 0 none, 1 as measured."
              }
              unit="taken off"
              value={lacks.includes(part) ? 0 : taking[part]}
              min={0}
              max={1}
              step={0.01}
              reset={1}
              disabled={lacks.includes(part)}
              onChange={(value) => put({ [part]: value })}
            />
          ))}
          <NumberField
            label="Contrast at most"
            help="Fine contrast is raised at most so many times; noise is raised with it."
            unit="×"
            value={taking.maxGain}
            min={1}
            max={8}
            step={0.1}
            reset={3}
            onChange={(maxGain) => put({ maxGain })}
          />
          <Cautions said={takingCautions(look, at)} />
        </>
      )}
    </section>
  );
}
