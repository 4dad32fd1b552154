/** Luma and chroma as movies carry them: code values of Y′CbCr to R′G′B′ and back (ITU-T H.273). */
export const MATRICES = { bt601: [0.299, 0.114], bt709: [0.2126, 0.0722], bt2020: [0.2627, 0.0593] } as const;
export type MatrixName = keyof typeof MATRICES;

export interface Chroma {
  /** Chroma samples are halved in this direction. */
  halfWidth: boolean;
  halfHeight: boolean;
  /** Across, chroma stands with the left luma sample of its pair; otherwise between the two. */
  leftSited: boolean;
  /** No chroma at all. */
  mono?: boolean;
}

export interface YuvLayout extends Chroma {
  width: number;
  height: number;
  bits: number;
  matrix: MatrixName;
  fullRange: boolean;
}

export const chromaSize = ({ width, height, halfWidth, halfHeight, mono }: YuvLayout) =>
  mono
    ? { width: 0, height: 0 }
    : { width: halfWidth ? (width + 1) >> 1 : width, height: halfHeight ? (height + 1) >> 1 : height };

/** Code values of black and white in luma, and of the span of chroma, for so many bits. */
function ranges({ bits, fullRange }: YuvLayout) {
  const unit = 2 ** (bits - 8);
  const top = 2 ** bits - 1;
  return fullRange
    ? { black: 0, span: top, middle: 128 * unit, chroma: top, top }
    : { black: 16 * unit, span: 219 * unit, middle: 128 * unit, chroma: 224 * unit, top };
}

type Plane = Uint8Array | Uint16Array;

/**
 * A row of chroma at full width and a given luma line, linear between samples. `between`: room for a row of the plane.
 */
function chromaRow(plane: Plane, layout: YuvLayout, y: number, out: Float32Array, between: Float64Array): void {
  const { width, halfWidth, halfHeight, leftSited } = layout;
  const size = chromaSize(layout);
  const position = halfHeight ? y / 2 - 0.25 : y;
  const upper = Math.max(0, Math.floor(position));
  const lower = Math.min(size.height - 1, upper + 1);
  const t = halfHeight ? Math.max(0, position - upper) : 0;
  const [a, b] = [upper * size.width, lower * size.width];
  for (let x = 0; x < size.width; x++) between[x] = plane[a + x]! * (1 - t) + plane[b + x]! * t;
  if (!halfWidth) {
    for (let x = 0; x < width; x++) out[x] = between[x]!;
    return;
  }
  // Two samples lie between two of the plane: how far from the one on their left.
  const [even, odd] = leftSited ? [1, 0.5] : [0.75, 0.25];
  for (let k = 0; k < size.width; k++) {
    const here = between[k]!;
    const before = k ? between[k - 1]! : here;
    const after = k + 1 < size.width ? between[k + 1]! : here;
    out[2 * k] = before + (here - before) * even;
    out[2 * k + 1] = here + (after - here) * odd;
  }
}

/**
 * Planes to interleaved RGBA code values, 0 to 1 from black to white; what lies outside them is kept. `out`: room for
 * them.
 */
export function fromYuv(
  [yPlane, uPlane, vPlane]: readonly [Plane, Plane, Plane],
  layout: YuvLayout,
  out: Float32Array = new Float32Array(layout.width * layout.height * 4),
): Float32Array {
  const { width, height, bits } = layout;
  const [kr, kb] = MATRICES[layout.matrix];
  const kg = 1 - kr - kb;
  const { black, span, middle, chroma } = ranges(layout);
  const [u, v] = [new Float32Array(width + 1), new Float32Array(width + 1)];
  const lumas = Float64Array.from({ length: 2 ** bits }, (_, code) => (code - black) / span);
  const between = new Float64Array(width);
  u.fill(middle);
  v.fill(middle);
  const [rv, bu] = [(2 * (1 - kr)) / chroma, (2 * (1 - kb)) / chroma];
  const [gv, gu] = [(rv * kr) / kg, (bu * kb) / kg];
  for (let y = 0, to = 0; y < height; y++) {
    if (!layout.mono) {
      chromaRow(uPlane, layout, y, u, between);
      chromaRow(vPlane, layout, y, v, between);
    }
    for (let x = 0; x < width; x++, to += 4) {
      const luma = lumas[yPlane[y * width + x]!]!;
      const [cu, cv] = [u[x]! - middle, v[x]! - middle];
      out[to] = luma + rv * cv;
      out[to + 1] = luma - gu * cu - gv * cv;
      out[to + 2] = luma + bu * cu;
      out[to + 3] = 1;
    }
  }
  return out;
}

/** Planes of green, blue and red, as decoders keep RGB, to interleaved RGBA code values. */
export function fromPlanes(
  [green, blue, red]: readonly [Plane, Plane, Plane],
  layout: YuvLayout,
  out: Float32Array = new Float32Array(layout.width * layout.height * 4),
): Float32Array {
  const { black, span } = ranges(layout);
  for (let i = 0; i < green.length; i++) {
    out[4 * i] = (red[i]! - black) / span;
    out[4 * i + 1] = (green[i]! - black) / span;
    out[4 * i + 2] = (blue[i]! - black) / span;
    out[4 * i + 3] = 1;
  }
  return out;
}

/**
 * Interleaved RGBA code values to planes, rounded and held to what the depth carries. Chroma is filtered where it is
 * halved.
 */
export function toYuv(data: Float32Array, layout: YuvLayout): [Plane, Plane, Plane] {
  const { width, height, bits } = layout;
  const [kr, kb] = MATRICES[layout.matrix];
  const { black, span, middle, chroma, top } = ranges(layout);
  const plane = (count: number): Plane => (bits <= 8 ? new Uint8Array(count) : new Uint16Array(count));
  const code = (value: number) => Math.min(top, Math.max(0, Math.round(value)));
  const yPlane = plane(width * height);
  const [cu, cv] = [new Float32Array(width * height), new Float32Array(width * height)];
  for (let i = 0, from = 0; i < yPlane.length; i++, from += 4) {
    const [r, g, b] = [data[from]!, data[from + 1]!, data[from + 2]!];
    const luma = kr * r + (1 - kr - kb) * g + kb * b;
    yPlane[i] = code(luma * span + black);
    cu[i] = (b - luma) / (2 * (1 - kb));
    cv[i] = (r - luma) / (2 * (1 - kr));
  }
  const size = chromaSize(layout);
  const reduced = (full: Float32Array): Plane => {
    const out = plane(size.width * size.height);
    for (let y = 0; y < size.height; y++)
      for (let x = 0; x < size.width; x++)
        out[y * size.width + x] = code(chromaAt(full, layout, x, y) * chroma + middle);
    return out;
  };
  return [yPlane, reduced(cu), reduced(cv)];
}

/** Mean over the luma samples a chroma sample stands for: two, or 1-2-1 about the one it stands with. */
function chromaAt(
  full: Float32Array,
  { width, height, halfWidth, halfHeight, leftSited }: YuvLayout,
  x: number,
  y: number,
): number {
  const columns = !halfWidth
    ? [[x, 1]]
    : leftSited
      ? [
          [2 * x - 1, 0.25],
          [2 * x, 0.5],
          [2 * x + 1, 0.25],
        ]
      : [
          [2 * x, 0.5],
          [2 * x + 1, 0.5],
        ];
  const rows = !halfHeight
    ? [[y, 1]]
    : [
        [2 * y, 0.5],
        [2 * y + 1, 0.5],
      ];
  let sum = 0;
  for (const [row, rowWeight] of rows as [number, number][])
    for (const [column, weight] of columns as [number, number][])
      sum += rowWeight * weight * full[Math.min(height - 1, row) * width + Math.min(width - 1, Math.max(0, column))]!;
  return sum;
}
