/** An element's response as a small drawing for paper. */
import type { Response, Trace } from "../elements/definition";

/** Size of the drawing and the room for its figures, px. */
const [WIDTH, HEIGHT] = [240, 120];
const ROOM = { left: 34, right: 6, top: 15, bottom: 23 } as const;

/** Traces on white: red, green and blue dark enough to be read. */
const COLOURS: Record<Trace["colour"], string> = { red: "#b3261e", green: "#2c7a34", blue: "#2a4fb0", grey: "#444" };

export const escaped = (text: string): string =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");

interface Scale {
  min: number;
  max: number;
  isLogarithmic: boolean;
  /** Share of the way from the least to the most. */
  at(value: number): number;
}

/** A scale over values; null where there is nothing to draw. */
function scaleOf(values: readonly number[], isLogarithmic: boolean): Scale | null {
  const usable = values.filter((value) => Number.isFinite(value) && (!isLogarithmic || value > 0));
  if (!usable.length) return null;
  let [min, max] = [Math.min(...usable), Math.max(...usable)];
  // What is even everywhere still lies on a line.
  if (min === max) [min, max] = isLogarithmic ? [min / 2, max * 2] : [min - 0.5, max + 0.5];
  const on = (value: number) => (isLogarithmic ? Math.log(value) : value);
  return { min, max, isLogarithmic, at: (value) => (on(value) - on(min)) / (on(max) - on(min)) };
}

/** Less than this share of an axis is nothing on it. */
const NOTHING = 1e-3;

/** An end of a scale in as few digits as tell it. */
const figure = (value: number, { min, max, isLogarithmic }: Scale): string => {
  const size = Math.abs(value);
  if (!isLogarithmic && size < NOTHING * (max - min)) return "0";
  const text = size !== 0 && (size >= 10_000 || size < 0.01) ? value.toExponential(0) : String(+value.toPrecision(3));
  return text.replace("-", "−");
};

const axisName = ({ label, unit }: { label: string; unit: string }) => escaped(unit ? `${label}, ${unit}` : label);

/** The traces that say something: the applied ones, and the measured ones where they are others. */
function tracesOf({ traces }: Response): Trace[] {
  const applied = traces.filter(({ kind }) => kind === "applied");
  const isApplied = (trace: Trace) =>
    applied.some((one) => one.colour === trace.colour && String(one.y) === String(trace.y));
  return [...traces.filter((trace) => trace.kind === "measured" && !isApplied(trace)), ...applied];
}

/** As an SVG: applied as a line, measured broken. Empty where there is nothing to draw. */
export function plotSvg(response: Response): string {
  const traces = tracesOf(response);
  const x = scaleOf(
    traces.flatMap((trace) => trace.x),
    response.x.logarithmic ?? false,
  );
  const y = scaleOf(
    traces.flatMap((trace) => trace.y),
    response.y.logarithmic ?? false,
  );
  if (!x || !y) return "";
  const [width, height] = [WIDTH - ROOM.left - ROOM.right, HEIGHT - ROOM.top - ROOM.bottom];
  const left = (value: number) => ROOM.left + width * x.at(value);
  const top = (value: number) => ROOM.top + height * (1 - y.at(value));
  const isSeen = (a: number, b: number) =>
    Number.isFinite(a) && Number.isFinite(b) && !(x.isLogarithmic && a <= 0) && !(y.isLogarithmic && b <= 0);
  const lines = traces.map((trace) => {
    const points = trace.x
      .flatMap((a, i) => (isSeen(a, trace.y[i]!) ? [`${left(a).toFixed(1)},${top(trace.y[i]!).toFixed(1)}`] : []))
      .join(" ");
    const broken = trace.kind === "measured" ? ' stroke-dasharray="3 2" opacity="0.7"' : "";
    return `<polyline points="${points}" fill="none" stroke="${COLOURS[trace.colour]}"${broken}/>`;
  });
  const right = WIDTH - ROOM.right;
  const bottom = HEIGHT - ROOM.bottom;
  const text = (at: [number, number], anchor: string, words: string) =>
    `<text x="${at[0]}" y="${at[1]}" text-anchor="${anchor}">${words}</text>`;
  return [
    `<svg viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="${escaped(response.title)}">`,
    `<path d="M${ROOM.left} ${ROOM.top}V${bottom}H${right}" fill="none" stroke="#999"/>`,
    ...lines,
    text([ROOM.left - 3, ROOM.top + 7], "end", figure(y.max, y)),
    text([ROOM.left - 3, bottom], "end", figure(y.min, y)),
    text([ROOM.left, bottom + 9], "start", figure(x.min, x)),
    text([right, bottom + 9], "end", figure(x.max, x)),
    text([ROOM.left, ROOM.top - 5], "start", axisName(response.y)),
    text([ROOM.left + width / 2, HEIGHT - 3], "middle", axisName(response.x)),
    "</svg>",
  ].join("");
}
