"use client";
import { useEffect, useRef, useState } from "react";
import { RAMP_FROM, RAMP_STEPS, RAMP_TO } from "@/core/scopes/ramp";
import type { Look } from "@/core/look/look";
import { type Order, useChannel } from "../engine/engine";
import { PRIORITY, type Ramp } from "../engine/messages";
import { TRACE } from "./draw";

const HEIGHT = 120;
const STOPS = [-10, -8, -6, -4, -2, 0, 2, 4, 6, 8];
const PERCENT = [0, 25, 50, 75, 100];
const toX = (stops: number) => ((stops - RAMP_FROM) / (RAMP_TO - RAMP_FROM)) * (RAMP_STEPS - 1);

/** Asks what becomes of the ramp whenever the look changes. */
function useRamp(order: Omit<Order, "output" | "look" | "divide">, look: Look | null): Ramp | null {
  const channel = useChannel(PRIORITY.read);
  const [ramp, setRamp] = useState<Ramp | null>(null);
  const key = JSON.stringify(order);
  useEffect(() => {
    if (look) channel().ramp({ ...order, look }, setRamp);
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
  order: Omit<Order, "output" | "look" | "divide">;
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
        strokeOpacity={faint ? 0.4 : 0.95}
        strokeWidth="1.4"
        strokeDasharray={faint ? "3 3" : undefined}
        vectorEffect="non-scaling-stroke"
      />
    ));
  const middle = ramp?.signal[Math.round(toX(0)) * 4 + 1];
  return (
    <div>
      <div className="flex gap-1.5">
        <div className="figures relative w-8 shrink-0 text-right text-[0.78rem] text-quiet" aria-hidden>
          {PERCENT.map((percent) => (
            <span
              key={percent}
              className="absolute right-0 translate-y-1/2 leading-none"
              style={{ bottom: `${Math.min(96, Math.max(4, percent))}%` }}
            >
              {percent}
            </span>
          ))}
        </div>
        <div className="relative flex-1 bg-black" style={{ height: HEIGHT }}>
          <svg
            viewBox={`0 0 ${RAMP_STEPS - 1} 100`}
            preserveAspectRatio="none"
            className="absolute inset-0 h-full w-full"
            role="img"
            aria-label="Signal (%) against light (stops from mid-grey)"
            style={{ mixBlendMode: "screen" }}
          >
            {PERCENT.map((percent) => (
              <path
                key={percent}
                d={`M0 ${percent}H${RAMP_STEPS}`}
                stroke="#fff"
                strokeOpacity="0.13"
                vectorEffect="non-scaling-stroke"
              />
            ))}
            <path d={`M${toX(0)} 0V100`} stroke="#fff" strokeOpacity="0.3" vectorEffect="non-scaling-stroke" />
            {other && curves(other, true)}
            {ramp && curves(ramp, false)}
          </svg>
        </div>
      </div>
      <div className="ml-9.5">
        <canvas
          ref={canvas}
          width={RAMP_STEPS}
          height={24}
          className="mt-1 h-6 w-full"
          role="img"
          aria-label="The grey ramp through the whole path"
        />
        <div className="figures relative h-4 text-[0.78rem] text-quiet" aria-hidden>
          {STOPS.map((stops) => (
            <span
              key={stops}
              className="absolute -translate-x-1/2 leading-4"
              style={{ left: `${Math.min(96, Math.max(4, (100 * toX(stops)) / (RAMP_STEPS - 1)))}%` }}
            >
              {stops > 0 ? `+${stops}` : stops}
            </span>
          ))}
        </div>
      </div>
      {middle !== undefined && (
        <p className="figures text-quiet" role="status" aria-label="Mid-grey on the ramp">
          mid-grey at {(100 * middle).toFixed(1)} %
        </p>
      )}
    </div>
  );
}
