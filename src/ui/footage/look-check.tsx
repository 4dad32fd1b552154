"use client";
import { MID_GREY, stopsOf } from "@/core/colour/grey";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { SRGB } from "@/core/colour/transfer/display";
import { softTone } from "@/core/view/view";
import { countOf, frameAt } from "@/core/frame/ranges";
import { api } from "../shared/api";
import { Plot } from "../shared/plot";
import { WaveformOfImage } from "./waveform";
import type { Shot } from "../../contract/shots";

const MIN_STOPS = -12;
/** px */
const PLOT_HEIGHT = 150;

/** What grey code values become on the screen, darkest to brightest, and where mid-grey stands among them. */
function RampStrip({ light, codes, plain }: { light: number[]; codes: number[]; plain: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const node = canvas.current;
    if (!node) return;
    const out = new ImageData(light.length, 1);
    light.forEach((value, i) => {
      const code = Math.round(255 * Math.min(1, Math.max(0, SRGB.toCode(plain ? value : softTone(value)))));
      out.data.set([code, code, code, 255], i * 4);
    });
    node.getContext("2d")!.putImageData(out, 0, 0);
  }, [light, plain]);
  const above = light.findIndex((value) => value >= MID_GREY);
  const grey =
    above > 0
      ? codes[above - 1]! +
        ((codes[above]! - codes[above - 1]!) * (MID_GREY - light[above - 1]!)) / (light[above]! - light[above - 1]!)
      : 0;
  return (
    <div className="relative">
      <canvas
        ref={canvas}
        width={light.length}
        height={1}
        className="h-6 w-full"
        role="img"
        aria-label="The grey ramp as it is shown, code value 0 to 100 %"
      />
      {grey > 0 && (
        <span className="absolute -top-0.5 bottom-0 w-px bg-halo" style={{ left: `${100 * grey}%` }}>
          <span className="figures absolute top-6 -translate-x-1/2 whitespace-nowrap">
            18 % grey at {(100 * grey).toFixed(1)} %
          </span>
        </span>
      )}
    </div>
  );
}

/** How an encoding makes a shot look: the picture, its waveform, and the grey ramp, before and while it is chosen. */
export function LookCheck({ shot, encoding }: { shot: Shot; encoding: string }) {
  const [shown, setShown] = useState<{ image: HTMLImageElement; serial: string } | null>(null);
  const ramp = useQuery({ queryKey: ["ramp", encoding], queryFn: () => api.ramp(encoding) });
  const frame = frameAt(shot.frames, countOf(shot.frames) >> 1);
  const address = `/api/shots/${shot.id}/thumbnail?width=800&frame=${frame}&encoding=${encodeURIComponent(encoding)}&is=${encodeURIComponent(`${shot.gaps} ${shot.depthChannel ?? ""}`)}`;
  const codes = ramp.data?.codes.map((code) => 100 * code) ?? [];
  const stops = ramp.data?.light.map((light) => (light > 0 ? Math.max(MIN_STOPS, stopsOf(light)) : null)) ?? [];
  return (
    <section aria-label="How it looks" className="flex flex-col gap-2">
      <img
        src={address}
        alt={`${shot.name} as ${encoding}`}
        className="aspect-video w-full bg-black object-contain"
        onLoad={(event) => setShown({ image: event.currentTarget, serial: event.currentTarget.src })}
      />
      <p className="text-quiet">Waveform of the picture above (% of the display&apos;s signal)</p>
      <WaveformOfImage image={shown?.image ?? null} serial={shown?.serial ?? ""} label="Waveform of the picture" />
      {/* Its room is kept until the ramp is there: what is set below must not move away from under a hand. */}
      <p className="text-quiet">The grey ramp, code value 0 to 100 %, as it is shown</p>
      <div className="h-11">
        {ramp.data && (
          <RampStrip light={ramp.data.light} codes={ramp.data.codes} plain={ramp.data.family === "display"} />
        )}
      </div>
      <div style={{ height: PLOT_HEIGHT }}>
        {ramp.data && (
          <Plot
            traces={[
              {
                type: "scatter",
                mode: "lines",
                x: codes,
                y: stops,
                line: { color: "#e8e8e8", width: 1.6 },
                hovertemplate: "%{x:.1f} %<br>%{y:.2f} stops<extra></extra>",
              },
            ]}
            x={{ title: "Code value (%)", range: [0, 100] }}
            y={{ title: "Light (stops from mid-grey)" }}
            height={PLOT_HEIGHT}
            label="Light against code value"
          />
        )}
      </div>
    </section>
  );
}
