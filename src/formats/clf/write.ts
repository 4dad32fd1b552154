import type { LogParams } from "../../core/colour/transfer/log";
import type { TransformStep, Transform } from "../../core/colour/transform/transform";

const DEPTHS = 'inBitDepth="32f" outBitDepth="32f"';
const escape = (text: string) =>
  text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;").replace(/"/g, "&quot;");
const number = (value: number) => Number(value.toPrecision(9)).toString();
const rows = (values: ArrayLike<number>, columns: number) =>
  Array.from({ length: values.length / columns }, (_, i) =>
    Array.from({ length: columns }, (_, c) => number(values[i * columns + c]!)).join(" "),
  ).join("\n");

/** A transform as a Common LUT Format file (Academy S-2014-006, version 3), values as 32-bit floats. */
export function writeClf({ name, steps }: Transform, id: string): string {
  const body = steps.flatMap(stepXml).join("\n");
  return `<?xml version="1.0" encoding="UTF-8"?>\n<ProcessList compCLFversion="3" id="${escape(id)}" name="${escape(name)}">\n${body}\n</ProcessList>\n`;
}

function stepXml(step: TransformStep): string[] {
  switch (step.kind) {
    case "matrix": {
      const values = [0, 1, 2].flatMap((row) => [...step.matrix.slice(row * 3, row * 3 + 3), step.offset[row]!]);
      return [`<Matrix ${DEPTHS}><Array dim="3 4">\n${rows(values, 4)}\n</Array></Matrix>`];
    }
    case "lut1d":
      return [
        ...domain(step.low, step.high),
        `<LUT1D ${DEPTHS}><Array dim="${step.size} 3">\n${rows(step.table, 3)}\n</Array></LUT1D>`,
      ];
    case "lutHalf":
      return [`<LUT1D ${DEPTHS} halfDomain="true"><Array dim="65536 3">\n${rows(step.table, 3)}\n</Array></LUT1D>`];
    case "lut3d":
      return [
        ...domain(step.low, step.high),
        `<LUT3D ${DEPTHS} interpolation="${step.isTrilinear ? "trilinear" : "tetrahedral"}"><Array dim="${step.size} ${step.size} ${step.size} 3">\n${rows(step.table, 3)}\n</Array></LUT3D>`,
      ];
    case "range":
      return [rangeXml(step)];
    case "log":
      return [
        `<Log ${DEPTHS} style="${logStyle(step)}">${step.channels.map((params, c) => logXml(params, "RGB"[c]!)).join("")}</Log>`,
      ];
    case "exponent":
      return [
        `<Exponent ${DEPTHS} style="${step.style}">${step.exponent.map((value, c) => `<ExponentParams channel="${"RGB"[c]}" exponent="${number(value)}"${step.style.startsWith("mon") ? ` offset="${number(step.offset[c]!)}"` : ""}/>`).join("")}</Exponent>`,
      ];
    case "cdl": {
      const list = (values: readonly number[]) => values.map(number).join(" ");
      return [
        `<ASC_CDL ${DEPTHS} style="${step.inverse ? "Rev" : "Fwd"}${step.clamps ? "" : "NoClamp"}"><SOPNode><Slope>${list(step.slope)}</Slope><Offset>${list(step.offset)}</Offset><Power>${list(step.power)}</Power></SOPNode><SatNode><Saturation>${number(step.saturation)}</Saturation></SatNode></ASC_CDL>`,
      ];
    }
  }
}

/** Tables of this format run from 0 to 1; another domain becomes a matrix before them. */
function domain(low: readonly number[], high: readonly number[]): string[] {
  if (low.every((value) => value === 0) && high.every((value) => value === 1)) return [];
  const scale = high.map((top, c) => 1 / (top - low[c]!));
  const matrix = [scale[0]!, 0, 0, 0, scale[1]!, 0, 0, 0, scale[2]!] as const;
  return stepXml({
    kind: "matrix",
    matrix,
    offset: scale.map((s, c) => -low[c]! * s) as unknown as [number, number, number],
  });
}

function rangeXml({ scale, offset, low, high }: Extract<TransformStep, { kind: "range" }>): string {
  const limit = (side: "min" | "max", out?: number) =>
    out === undefined
      ? ""
      : `<${side}InValue>${number((out - offset) / scale)}</${side}InValue><${side}OutValue>${number(out)}</${side}OutValue>`;
  if (low === undefined && high === undefined)
    return `<Range ${DEPTHS} style="noClamp"><minInValue>0</minInValue><maxInValue>1</maxInValue><minOutValue>${number(offset)}</minOutValue><maxOutValue>${number(offset + scale)}</maxOutValue></Range>`;
  return `<Range ${DEPTHS}>${limit("min", low)}${limit("max", high)}</Range>`;
}

const logStyle = ({ toLog, channels }: Extract<TransformStep, { kind: "log" }>) =>
  channels[0].linSideBreak === undefined
    ? toLog
      ? "linToLog"
      : "logToLin"
    : toLog
      ? "cameraLinToLog"
      : "cameraLogToLin";
const logXml = (params: LogParams, channel: string) =>
  `<LogParams channel="${channel}" ${Object.entries(params)
    .filter(([, value]) => value !== undefined)
    .map(([key, value]) => `${key}="${number(value as number)}"`)
    .join(" ")}/>`;
