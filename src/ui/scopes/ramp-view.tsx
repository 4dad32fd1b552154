"use client";
import { useEffect, useRef, useState } from "react";
import { RAMP_FROM, RAMP_STEPS, RAMP_TO } from "@/core/scopes/ramp";
import type { Look } from "@/core/look/look";
import { useChannel } from "../engine/engine";
import { type FrameOrder } from "../engine/questions";
import { PRIORITY, type Ramp } from "../engine/questions";
import { FAINT, TRACE } from "./draw";
import { Along, Graticule } from "./graticule";
import { marksOf } from "./marks";

const HEIGHT = 120;
const toX = (stops: number) => ((stops - RAMP_FROM) / (RAMP_TO - RAMP_FROM)) * (RAMP_STEPS - 1);

/** Asks what becomes of the ramp whenever the look changes. */
function useRamp(order: Omit<FrameOrder, "look" | "divide">, look: Look | null): Ramp | null {
  const channel = useChannel(PRIORITY.read);
  const [ramp, setRamp] = useState<Ramp | null>(null);
  const key = JSON.stringify(order);
  useEffect(() => {
    if (look) channel().ask("ramp", { ...order, look }, setRamp);
    else setRamp(null);
    // The key is the order, whole.
  }, [channel, key, look]); // eslint-disable-line react-hooks/exhaustive-deps
  return ramp;
}

/** Greys from -10 to +8 stops: what tone makes of them as a curve, and the ramp itself through the whole path. */
export function RampView({
  order,
  look,
  against,
}: {
  order: Omit<FrameOrder, "look" | "divide">;
  look: Look;
  against: Look | null;
}) {
  const ramp = useRamp(order, look);
  const other = useRamp(order, against);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (ramp && canvas.current)
      canvas.current.getContext("2d")!.putImageData(new ImageData(ramp.picture, ramp.width, ramp.height), 0, 0);
  }, [ramp]);
  const curve = ({ signal }: Ramp, c: number) =>
    Array.from({ length: RAMP_STEPS }, (_, i) => `${i},${100 * (1 - signal[i * 4 + c]!)}`).join(" ");
  const curves = (of: Ramp, faint: boolean) =>
    (["red", "green", "blue"] as const).map((plane, c) => (
      <polyline
        key={`${plane} ${faint}`}
        points={curve(of, c)}
        fill="none"
        stroke={`rgb(${TRACE[plane].join(" ")})`}
        strokeOpacity={faint ? FAINT : 1}
        strokeWidth="1.4"
        strokeDasharray={faint ? "3 3" : undefined}
        vectorEffect="non-scaling-stroke"
      />
    ));
  const middle = ramp?.signal[Math.round(toX(0)) * 4 + 1];
  return (
    <div>
      <Graticule marks={marksOf("code", look.view.display)} height={HEIGHT}>
        <svg
          viewBox={`0 0 ${RAMP_STEPS - 1} 100`}
          preserveAspectRatio="none"
          className="absolute inset-0 h-full w-full"
          role="img"
          aria-label="Signal (%) against light (stops from mid-grey)"
          style={{ mixBlendMode: "screen" }}
        >
          <path d={`M${toX(0)} 0V100`} stroke="#fff" strokeOpacity="0.3" vectorEffect="non-scaling-stroke" />
          {other && curves(other, true)}
          {ramp && curves(ramp, false)}
        </svg>
      </Graticule>
      <div className="ml-9.5">
        <canvas
          ref={canvas}
          width={RAMP_STEPS}
          height={24}
          className="mt-1 h-6 w-full"
          role="img"
          aria-label="The grey ramp through the whole path"
        />
        <Along marks={marksOf("stops", look.view.display)} />
      </div>
      {middle !== undefined && (
        <p className="figures text-quiet" role="status" aria-label="Mid-grey on the ramp">
          mid-grey at {(100 * middle).toFixed(1)} %
        </p>
      )}
    </div>
  );
}
