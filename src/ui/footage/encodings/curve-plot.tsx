"use client";
import { lightAt, stopsOf } from "@/core/colour/grey";
import type { Transfer } from "@/core/colour/transfer/transfer";
import { Plot } from "../../shared/plot";
import type { Draft } from "./draft";

/** The largest code value of 10 bits. */
export const MAX_CODE = 1023;

const STOPS = Array.from({ length: 145 }, (_, i) => -10 + i / 8);

/** A curve over stops, with the pairs that are known of it. */
export function CurvePlot({ curve, pairs }: { curve: Transfer | null; pairs: Draft["pairs"] }) {
  const known = pairs.filter(({ code, reflectance }) => code.trim() !== "" && Number(reflectance) > 0);
  return (
    <Plot
      traces={[
        {
          type: "scatter",
          mode: "lines",
          x: STOPS,
          y: curve ? STOPS.map((stops) => curve.toCode(lightAt(stops)) * MAX_CODE) : [],
          line: { color: "#e8e8e8", width: 1.8 },
          hovertemplate: "%{x:.2f} stops<br>code %{y:.1f}<extra></extra>",
        },
        {
          type: "scatter",
          mode: "markers",
          x: known.map(({ reflectance }) => stopsOf(Number(reflectance) / 100)),
          y: known.map(({ code }) => Number(code)),
          marker: { color: "#fff3dc", size: 8, symbol: "circle-open" },
          hovertemplate: "known: code %{y}<extra></extra>",
        },
      ]}
      x={{ title: "Light (stops from mid-grey)", range: [-10, 8] }}
      y={{ title: "Code value (10 bits)", range: [0, MAX_CODE] }}
      height={230}
      label="Code value against light"
    />
  );
}
