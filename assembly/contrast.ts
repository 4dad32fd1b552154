// Contrast by frequency, direction and image height: bands of the picture, each with a gain along the radius and one across it.

import { add, mul, splat, sub, withAlpha } from "./simd";


/**
 * dst = m4 + sum over bands k of mean_k (m_k - m_k+1), less sum over members k of half_k (d_rr - d_tt) m_k, less edge (d_xx + d_yy)
 * m0: second derivatives along the radius and across it tell the two directions apart. Record of floats: axis x, axis y (px),
 * pitch x, pitch y (mm/px), table entries per mm^2 of height squared, last entry, factor of second differences along x, the same
 * along y, four of nothing; then the table: twelve floats an entry, mean_0..3, half_1..4, half_0, edge, two of nothing.
 */
export function contrast(
  m0: usize, m1: usize, m2: usize, m3: usize, m4: usize, dst: usize, width: i32, height: i32, record: usize, scratch: usize, y0: i32, y1: i32,
): void {
  const axisX = load<f32>(record), axisY = load<f32>(record, 4), pitchX = load<f32>(record, 8), pitchY = load<f32>(record, 12);
  const perMm2 = load<f32>(record, 16), last = load<f32>(record, 20);
  const fx = load<f32>(record, 24), fy = load<f32>(record, 28);
  const cross = splat(<f32>sqrt(fx * fy) * 0.25);
  const sx = splat(fx), sy = splat(fy);
  const table = record + 48;
  const stride = <usize>width << 4;
  for (let y = y0; y < y1; y++) {
    const row = <usize>y * stride;
    const up = <usize>max(y - 1, 0) * stride, down = <usize>min(y + 1, height - 1) * stride;
    const dy = (<f32>y - axisY) * pitchY;
    const dy2 = dy * dy;
    for (let x = 0; x < width; x++) {
      const dx = (<f32>x - axisX) * pitchX;
      const h2 = dx * dx + dy2;
      const place = min(h2 * perMm2, last);
      const cell = <i32>place;
      const t = splat(place - <f32>cell);
      const entry = table + <usize>cell * 48;
      const meanHere = v128.load(entry), halfHere = v128.load(entry, 16), fineHere = v128.load(entry, 32);
      const mean = add(meanHere, mul(sub(v128.load(entry, 48), meanHere), t));
      const half = add(halfHere, mul(sub(v128.load(entry, 64), halfHere), t));
      const fine = add(fineHere, mul(sub(v128.load(entry, 80), fineHere), t));
      const o = row + (<usize>x << 4);
      const p0 = v128.load(m0 + o), p1 = v128.load(m1 + o), p2 = v128.load(m2 + o), p3 = v128.load(m3 + o), p4 = v128.load(m4 + o);
      let out = add(p4, mul(sub(p0, p1), v128.shuffle<f32>(mean, mean, 0, 0, 0, 0)));
      out = add(out, mul(sub(p1, p2), v128.shuffle<f32>(mean, mean, 1, 1, 1, 1)));
      out = add(out, mul(sub(p2, p3), v128.shuffle<f32>(mean, mean, 2, 2, 2, 2)));
      out = add(out, mul(sub(p3, p4), v128.shuffle<f32>(mean, mean, 3, 3, 3, 3)));
      const left: usize = x > 0 ? 16 : 0, right: usize = x < width - 1 ? 16 : 0;
      const at = <usize>x << 4;
      const c = m0 + row + at, twice = add(p0, p0);
      const dxx = mul(sub(add(v128.load(c - left), v128.load(c + right)), twice), sx);
      const dyy = mul(sub(add(v128.load(m0 + up + at), v128.load(m0 + down + at)), twice), sy);
      out = sub(out, mul(add(dxx, dyy), v128.shuffle<f32>(fine, fine, 1, 1, 1, 1)));
      if (v128.any_true(f32x4.gt(f32x4.abs(half), splat(1e-4))) && h2 > 1e-9) {
        const cos2 = splat((dx * dx - dy2) / h2), sin2 = mul(splat(2), mul(splat((2 * dx * dy) / h2), cross));
        let turned = mul(directed(m0, p0, row, up, down, at, left, right, cos2, sin2, sx, sy), v128.shuffle<f32>(fine, fine, 0, 0, 0, 0));
        turned = add(turned, mul(directed(m1, p1, row, up, down, at, left, right, cos2, sin2, sx, sy), v128.shuffle<f32>(half, half, 0, 0, 0, 0)));
        turned = add(turned, mul(directed(m2, p2, row, up, down, at, left, right, cos2, sin2, sx, sy), v128.shuffle<f32>(half, half, 1, 1, 1, 1)));
        turned = add(turned, mul(directed(m3, p3, row, up, down, at, left, right, cos2, sin2, sx, sy), v128.shuffle<f32>(half, half, 2, 2, 2, 2)));
        turned = add(turned, mul(directed(m4, p4, row, up, down, at, left, right, cos2, sin2, sx, sy), v128.shuffle<f32>(half, half, 3, 3, 3, 3)));
        out = sub(out, turned);
      }
      v128.store(dst + o, withAlpha(out, p0));
    }
  }
}

/** cos 2phi (dxx - dyy) + 2 sin 2phi dxy of a plane: the second derivative along the radius less that across it. */
// @ts-ignore: decorator
@inline function directed(
  plane: usize, here: v128, row: usize, up: usize, down: usize, at: usize, left: usize, right: usize, cos2: v128, sin2: v128, sx: v128, sy: v128,
): v128 {
  const r = plane + row + at, u = plane + up + at, d = plane + down + at;
  const twice = add(here, here);
  const dxx = mul(sub(add(v128.load(r - left), v128.load(r + right)), twice), sx);
  const dyy = mul(sub(add(v128.load(u), v128.load(d)), twice), sy);
  const dxy = sub(add(v128.load(d + right), v128.load(u - left)), add(v128.load(d - left), v128.load(u + right)));
  return add(mul(sub(dxx, dyy), cos2), mul(dxy, sin2));
}
