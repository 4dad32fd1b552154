// The pupil as a kernel: discs of an iris, cut to a cat's eye away from the axis, sized by depth or all alike.

import { add, mirror, mul, splat, withAlpha } from "./simd";

// Where a sample lies, made once for all pixels: how many bytes on, across and down (px), and how far (px). As many as there are samples.
const DX: usize = 4, DY: usize = 8, DISTANCE: usize = 12;

/**
 * Gathers through the pupil. Record of floats: samples, largest radius (px along y), pixel aspect (px along x for one along y),
 * axis x, axis y (px), px along y to the image height at which the table of cat's eyes ends, its last entry, mode (0: every
 * place at the largest radius; 1: by depth), circle of confusion at infinity (radius, px) and focus distance (m); then 8 entries
 * and one more of how far the second pupil is shifted (in pupil radii) by height, then the samples: u, v, weight, nothing; u, v
 * within the unit disc. `depth`: a frame whose lanes are distance (m), or 0.
 *
 * By depth, a sample counts where its own circle reaches the place looked at; what lies behind the place is held to the place's own
 * circle, so that a blurred background does not run over what is sharp before it.
 */
export function iris(
  src: usize, depth: usize, dst: usize, width: i32, height: i32, record: usize, black: i32, scratch: usize, y0: i32, y1: i32,
): void {
  const samples = <i32>load<f32>(record), radius = load<f32>(record, 4), aspect = load<f32>(record, 8);
  const axisX = load<f32>(record, 12), axisY = load<f32>(record, 16), perPx = load<f32>(record, 20), last = load<f32>(record, 24);
  const byDepth = load<f32>(record, 28) != 0;
  const far = load<f32>(record, 32), focus = load<f32>(record, 36);
  const eyes = record + 40;
  const list = record + 80;
  let reachX = 0, reachY = 0;
  for (let k = 0; k < samples; k++) {
    const s = list + (<usize>k << 4), place = scratch + (<usize>k << 4);
    const u = load<f32>(s), v = load<f32>(s, 4);
    const dx = <i32>Mathf.round(u * radius * aspect), dy = <i32>Mathf.round(v * radius);
    store<i32>(place, (dy * width + dx) << 4);
    store<i32>(place, dx, DX);
    store<i32>(place, dy, DY);
    store<f32>(place, sqrt(u * u + v * v) * radius, DISTANCE);
    reachX = max(reachX, abs(dx));
    reachY = max(reachY, abs(dy));
  }
  for (let y = y0; y < y1; y++) {
    const inRow = y >= reachY && y < height - reachY;
    for (let x = 0; x < width; x++) {
      const at = <usize>(y * width + x) << 4;
      const pixel = v128.load(src + at);
      const hx = (<f32>x - axisX) / aspect, hy = <f32>y - axisY;
      const h = sqrt(hx * hx + hy * hy);
      const place = min(h * perPx, last);
      const cell = <i32>place;
      const here = load<f32>(eyes + (<usize>cell << 2));
      const shift = here + (load<f32>(eyes + (<usize>cell << 2), 4) - here) * (place - <f32>cell);
      const ex = h > 0 ? (hx / h) * shift : 0, ey = h > 0 ? (hy / h) * shift : 0;
      let sum = splat(0);
      let weights: f32 = 0;
      // Outside the second pupil the lens barrel stops the light. Light gathered from (u, v) leaves towards (-u, -v).
      if (!byDepth && inRow && x >= reachX && x < width - reachX) {
        // Each sample's weight is masked instead of passed by: a choice that cannot be foreseen costs more than the sum.
        const centre = src + at;
        for (let s = list, place = scratch, end = list + (<usize>samples << 4); s < end; s += 16, place += 16) {
          const cu = load<f32>(s) + ex, cv = load<f32>(s, 4) + ey;
          const weight: f32 = cu * cu + cv * cv > 1 ? 0 : load<f32>(s, 8);
          sum = add(sum, mul(v128.load(centre + <usize>load<i32>(place)), splat(weight)));
          weights += weight;
        }
        v128.store(dst + at, withAlpha(weights > 0 ? mul(sum, splat(<f32>1.0 / weights)) : pixel, pixel));
        continue;
      }
      let own: f32 = radius;
      let ownDepth: f32 = 0;
      if (byDepth) {
        ownDepth = max(load<f32>(depth + at), 0.05);
        own = min(radius, far * abs(ownDepth - focus) / ownDepth);
      }
      for (let k = 0; k < samples; k++) {
        const s = list + (<usize>k << 4), place = scratch + (<usize>k << 4);
        const cu = load<f32>(s) + ex, cv = load<f32>(s, 4) + ey;
        if (cu * cu + cv * cv > 1) continue;
        const sx = x + load<i32>(place, DX), sy = y + load<i32>(place, DY);
        if (black && (sx < 0 || sy < 0 || sx >= width || sy >= height)) {
          if (!byDepth) weights += load<f32>(s, 8);
          continue;
        }
        const from = <usize>(mirror(sy, height) * width + mirror(sx, width)) << 4;
        let weight = load<f32>(s, 8);
        if (byDepth) {
          const z = max(load<f32>(depth + from), 0.05);
          let reach = min(radius, far * abs(z - focus) / z);
          if (z > ownDepth) reach = min(reach, own);
          // A circle smaller than its distance does not reach; its edge is a pixel wide. Light is spread over its area.
          const reached = min(max(reach - load<f32>(place, DISTANCE) + 1, 0), 1);
          weight *= reached / max(reach * reach, 0.25);
        }
        sum = add(sum, mul(v128.load(src + from), splat(weight)));
        weights += weight;
      }
      if (byDepth) {
        // The place's own light, in focus or as the middle of its circle.
        const weight = <f32>1.0 / max(own * own, 0.25);
        sum = add(sum, mul(pixel, splat(weight)));
        weights += weight;
      }
      v128.store(dst + at, withAlpha(weights > 0 ? mul(sum, splat(<f32>1.0 / weights)) : pixel, pixel));
    }
  }
}
