import type { PointReading, Reading, ReadingKind, ReadingOrder } from "@/core/measure/readings";

export const KIND_WORDS: Record<ReadingKind, { label: string; gives: string; shoot: string }> = {
  edges: {
    label: "Slanted edges",
    gives: "contrast by image height and frequency",
    shoot: "squares turned by 5 to 40°, dark on light, from the middle to the corners",
  },
  flat: {
    label: "Even field",
    gives: "relative illumination",
    shoot: "a window or a lit wall out of focus, and once more with the camera turned by 180°",
  },
  grid: {
    label: "Grid of dots",
    gives: "distortion and lateral colour",
    shoot: "a sheet of round dots that fills the frame, straight before the lens",
  },
  pair: {
    label: "Without and with a filter",
    gives: "scatter, spread and transmission",
    shoot: "small lamps in the dark, camera fixed, of one exposure, nothing clipped",
  },
  point: {
    label: "Small lamps in the dark",
    gives: "in focus: veil and streak; out of focus: blades, cat’s eye and rim",
    shoot:
      "a few small lamps, clear of each other and of the edge, nothing clipped; out of focus, many, to the corners",
  },
  transmission: {
    label: "Even field, without and with",
    gives: "transmission by wavelength",
    shoot: "one white field without the glass and with it, of one exposure",
  },
};

/** What a measurement is called in lists. */
export function nameOf(order: ReadingOrder): string {
  const label = KIND_WORDS[order.kind].label;
  if (order.kind === "point" || order.kind === "transmission") return `${label}, ${order.focalLength} mm`;
  if (order.kind === "pair") return `${label}, grade ${order.grade}`;
  return `${label}, ${order.focalLength} mm${"stop" in order ? `, T${order.stop}` : ""}`;
}

/** What is drawn of a pupil as numbers. */
const bladesOf = ({ blades, roundness }: { blades: number; roundness: number }) =>
  blades ? `${blades} blades, roundness ${roundness.toFixed(2)}` : "A round iris";

/** What small lamps say, as short lines. */
function lampFacts({ lamps, veil, streak, pupil }: PointReading): string[] {
  const facts = [`${lamps.length} lamps ${pupil ? "out of focus" : "in focus"}`];
  if (veil) facts.push(`Veil ${veil.fraction.toFixed(2)} ± ${(2 * veil.uncertainty).toFixed(2)} % of the mean light`);
  if (streak) {
    const lengths = streak.length.map((length) => length.toFixed(1)).join(", ");
    facts.push(
      `Streak ${streak.gain.toFixed(2)} ± ${(2 * streak.gain * streak.uncertainty).toFixed(2)} % of the lamp’s light`,
      `It falls to 37 % over ${lengths} % of the width (red, green, blue)`,
    );
  } else if (!pupil) facts.push("No streak");
  if (pupil)
    facts.push(
      bladesOf(pupil),
      `${percent(pupil.catEye.at(-1)!)} ± ${percent(2 * pupil.uncertainty.catEye)} open in the corner`,
      `Rim ${signed(pupil.rim, 2)} ± ${(2 * pupil.uncertainty.rim).toFixed(2)}`,
    );
  return facts;
}

const percent = (share: number, digits = 1) => `${(100 * share).toFixed(digits)} %`;
const signed = (value: number, digits: number) => value.toFixed(digits).replace("-", "−");

/** What a reading comes to, as short lines. */
export function factsOf(reading: Reading): string[] {
  switch (reading.kind) {
    case "edges": {
      const { edges, refused, filled, table } = reading;
      const lacking = (["sagittal", "meridional"] as const).flatMap((direction) =>
        filled[direction].length
          ? [
              `No edge for ${direction} contrast at ${filled[direction].join(", ")} mm: the other direction stands for it`,
            ]
          : [],
      );
      return [
        `${edges.length} edges measured${refused.length ? `, ${refused.length} could not be` : ""}`,
        `Contrast within ±${percent(2 * table.uncertainty)} (two standard errors)`,
        ...lacking,
      ];
    }
    case "flat":
      return [
        reading.turned ? "Turned pair: the lamp is out of it" : "One frame: the lamp’s unevenness is in it",
        `Within ±${percent(2 * reading.table.uncertainty, 2)} (two standard errors)`,
      ];
    case "grid":
      return [
        `${reading.dots.length} dots${reading.leftOut ? `, ${reading.leftOut} left out as damaged` : ""}`,
        `${reading.residual.toFixed(3)} px from the ${reading.model} model, root mean square`,
        `Lateral colour within ±${(2 * reading.lateralColour.uncertainty).toPrecision(2)} µm (two standard errors)`,
      ];
    case "pair": {
      const { grade, measured } = reading;
      return [
        `${percent(grade.scatter)} ± ${percent(2 * measured.uncertainty.scatter)} of the light is scattered`,
        `${signed(grade.transmissionStops, 3)} stops come through`,
        `${percent(measured.explained)} of what changed is explained`,
      ];
    }
    case "point":
      return lampFacts(reading);
    case "transmission": {
      const { wavelengths, values, uncertainty } = reading.table;
      const at = (nm: number) => percent(values[wavelengths.indexOf(nm)]!);
      return [
        `${at(440)} at 440 nm, ${at(540)} at 540 nm, ${at(640)} at 640 nm come through`,
        `Within ±${percent(2 * uncertainty, 2)} (two standard errors)`,
      ];
    }
  }
}
