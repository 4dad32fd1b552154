"use client";
import { useMemo, useState } from "react";
import { countsOfPixels } from "@/core/scopes/waveform";
import type { Display } from "@/core/view/view";
import type { Picture } from "../../engine/questions";
import { marksOf } from "../../scopes/marks";
import { SCOPES } from "../../view/scopes";
import { EndsOfScale, ScopeToggles } from "../../scopes/scope-parts";
import { Histogram, Parade, Vectorscope, Waveform } from "../../scopes/scope-view";

/** Scopes of pictures that are made: what has no light any more has no ramp, and no stops. */
const SHOWN = ["waveform", "parade", "vectors", "histogram"] as const;
type Shown = (typeof SHOWN)[number];

const useCounts = (picture: Picture | null) =>
  useMemo(() => picture && countsOfPixels(picture.pixels, picture.width, picture.rows, { vectors: true }), [picture]);

/** Scopes of a rendered frame, and faintly of what it is held against. */
export function RenderScopes({
  picture,
  against,
  display,
}: {
  picture: Picture | null;
  against: Picture | null;
  display: Display;
}) {
  const [shown, setShown] = useState<readonly Shown[]>(["waveform", "histogram", "vectors"]);
  const both = { counts: useCounts(picture), reference: useCounts(against) };
  const marks = marksOf("code", display);
  const draw: Record<Shown, () => React.ReactNode> = {
    waveform: () => <Waveform {...both} marks={marks} luma={false} />,
    parade: () => <Parade {...both} marks={marks} />,
    vectors: () => <Vectorscope {...both} />,
    histogram: () => <Histogram {...both} marks={marks} />,
  };
  return (
    <aside aria-label="Scopes" className="flex w-80 shrink-0 flex-col gap-2 overflow-y-auto bg-base-200 p-2">
      <ScopeToggles
        names={SHOWN}
        shown={shown}
        onToggle={(name) => setShown(SHOWN.filter((one) => shown.includes(one) !== (one === name)))}
      />
      {shown.map((name) => (
        <section key={name} aria-label={SCOPES[name]} className="flex flex-col gap-1">
          <h3 className="text-quiet">
            {SCOPES[name]} {name === "vectors" ? "(blue and red differences)" : "(% of signal)"}
          </h3>
          {draw[name]()}
        </section>
      ))}
      {both.counts && <EndsOfScale counts={both.counts} />}
    </aside>
  );
}
