// Geometry: a coarse map of where each output pixel's light comes from, per channel. The one resampling in warp.ts uses
// it.

/** Where the two affine maps lie in the record, bytes. */
const OUT_MAP: usize = 176;
const SOURCE_MAP: usize = 224;
/** Where the taking lens lies in it, bytes: its focal length (mm; 0 for none), then its coefficients. */
const TAKEN: usize = 272;

// @ts-ignore: decorator
@inline
function affineX(map: usize, x: f64, y: f64): f64 {
  return load<f64>(map) * x + load<f64>(map, 8) * y + load<f64>(map, 16);
}

/** The displacement of a colour (0 red, 4 blue: bytes into an entry) at an image height, mm; linear between entries. */
// @ts-ignore: decorator
@inline
function lateralAt(table: usize, colour: usize, height: f64, perMm: f64, last: f64): f64 {
  const place = min(height * perMm, last);
  const cell = min(floor(place), last - 1);
  const entry = table + ((<usize>(<i32>cell)) << 3) + colour;
  const here = <f64>load<f32>(entry);
  return here + (<f64>load<f32>(entry, 8) - here) * (place - cell);
}

// @ts-ignore: decorator
@inline
function affineY(map: usize, x: f64, y: f64): f64 {
  return load<f64>(map, 24) * x + load<f64>(map, 32) * y + load<f64>(map, 40);
}

/** Where a lens with these coefficients (13 doubles, as in the map's record) draws an ideal place, focal lengths. */
// @ts-ignore: decorator
@inline
function distortedX(d: usize, u: f64, v: f64): f64 {
  const u2 = u * u;
  const v2 = v * v;
  const r2 = u2 + v2;
  const along = u2 * load<f64>(d) + v2 * load<f64>(d, 8) + u2 * u2 * load<f64>(d, 16) + u2 * v2 * load<f64>(d, 24);
  const even = along + v2 * v2 * load<f64>(d, 32) + load<f64>(d, 80) * r2 * r2 * r2;
  return u + u * even + 2 * load<f64>(d, 88) * u * v + load<f64>(d, 96) * (r2 + 2 * u2);
}

// @ts-ignore: decorator
@inline
function distortedY(d: usize, u: f64, v: f64): f64 {
  const u2 = u * u;
  const v2 = v * v;
  const r2 = u2 + v2;
  const along = u2 * load<f64>(d, 40) + v2 * load<f64>(d, 48) + u2 * u2 * load<f64>(d, 56) + u2 * v2 * load<f64>(d, 64);
  const even = along + v2 * v2 * load<f64>(d, 72) + load<f64>(d, 80) * r2 * r2 * r2;
  return v + v * even + load<f64>(d, 88) * (r2 + 2 * v2) + 2 * load<f64>(d, 96) * u * v;
}

/**
 * Fills a map of source positions (px) at nodes `spacing` px apart. Each node holds two vectors: x for R, G, B, then y.
 * The map's record, in doubles: focal length (mm), pitch x, pitch y (mm/px), axis x, axis y (px), the distortion's
 * coefficients (x20, x02, x40, x22, x04, y20, y02, y40, y22, y04, k3, p1, p2; strength in them), largest invertible
 * radius (in focal lengths), zoom, heights per mm of the lateral table, its last entry; then two affine maps of six
 * (px: a, b, c, d, e, f take x, y to ax + by + c, dx + ey + f), of the output's place before the lens is undone and of
 * the source's place after; then the taking lens's focal length (mm; 0 where none is taken off) and coefficients, which
 * put an ideal place where that lens has drawn it. `lateral`: pairs of floats (red, blue), displacement in mm by image
 * height; after the last entry as many again, of the taking lens.
 */
export function geometryMap(
  map: usize,
  columns: i32,
  spacing: i32,
  record: usize,
  lateral: usize,
  scratch: usize,
  j0: i32,
  j1: i32,
): void {
  const focal = load<f64>(record);
  const pitchX = load<f64>(record, 8);
  const pitchY = load<f64>(record, 16);
  const axisX = load<f64>(record, 24);
  const axisY = load<f64>(record, 32);
  const x20 = load<f64>(record, 40);
  const x02 = load<f64>(record, 48);
  const x40 = load<f64>(record, 56);
  const x22 = load<f64>(record, 64);
  const x04 = load<f64>(record, 72);
  const y20 = load<f64>(record, 80);
  const y02 = load<f64>(record, 88);
  const y40 = load<f64>(record, 96);
  const y22 = load<f64>(record, 104);
  const y04 = load<f64>(record, 112);
  const k3 = load<f64>(record, 120);
  const p1 = load<f64>(record, 128);
  const p2 = load<f64>(record, 136);
  const rMax = load<f64>(record, 144);
  const zoom = load<f64>(record, 152);
  const perMm = load<f64>(record, 160);
  const last = load<f64>(record, 168);
  const takenFocal = load<f64>(record, TAKEN);
  const takenLateral = lateral + ((<usize>last + 1) << 3);
  for (let j = j0; j < j1; j++) {
    for (let i = 0; i < columns; i++) {
      const nodeX = <f64>(i * spacing);
      const nodeY = <f64>(j * spacing);
      const outX = (affineX(record + OUT_MAP, nodeX, nodeY) - axisX) * pitchX * zoom;
      const outY = (affineY(record + OUT_MAP, nodeX, nodeY) - axisY) * pitchY * zoom;
      const node = map + ((<usize>(j * columns + i)) << 5);
      for (let c = 0; c < 3; c++) {
        let px = outX;
        let py = outY;
        if (c != 1) {
          // The channel's light lands displaced by delta(h); undo it where it came from (two fixed-point steps).
          const h = sqrt(px * px + py * py);
          let source = h;
          for (let step = 0; step < 3; step++) {
            source = h - lateralAt(lateral, c == 2 ? 4 : 0, source, perMm, last);
          }
          const ratio = h > 1e-9 ? source / h : 1;
          px *= ratio;
          py *= ratio;
        }
        // Newton's method on distorted(u, v) = p, coordinates in focal lengths.
        const tx = px / focal;
        const ty = py / focal;
        let u = tx;
        let v = ty;
        for (let step = 0; step < 8; step++) {
          const u2 = u * u;
          const v2 = v * v;
          const r2 = u2 + v2;
          const sixth = k3 * r2 * r2 * r2;
          const sixthSlope = 6 * k3 * r2 * r2;
          const alongX = 1 + u2 * (x20 + x40 * u2 + x22 * v2) + v2 * (x02 + x04 * v2) + sixth;
          const alongY = 1 + u2 * (y20 + y40 * u2 + y22 * v2) + v2 * (y02 + y04 * v2) + sixth;
          const ex = u * alongX + 2 * p1 * u * v + p2 * (r2 + 2 * u2) - tx;
          const ey = v * alongY + p1 * (r2 + 2 * v2) + 2 * p2 * u * v - ty;
          const tangential = 2 * p1 * u + 2 * p2 * v;
          const a = alongX + u2 * (2 * x20 + 4 * x40 * u2 + 2 * x22 * v2 + sixthSlope) + 2 * p1 * v + 6 * p2 * u;
          const b = u * v * (2 * x02 + 2 * x22 * u2 + 4 * x04 * v2 + sixthSlope) + tangential;
          const d = u * v * (2 * y20 + 4 * y40 * u2 + 2 * y22 * v2 + sixthSlope) + tangential;
          const e = alongY + v2 * (2 * y02 + 2 * y22 * u2 + 4 * y04 * v2 + sixthSlope) + 6 * p1 * v + 2 * p2 * u;
          const det = a * e - b * d;
          const du = (e * ex - b * ey) / det;
          const dv = (a * ey - d * ex) / det;
          u -= du;
          v -= dv;
          const r = sqrt(u * u + v * v);
          if (!(r <= rMax)) {
            // Past the place where the lens folds the picture over: hold at that radius, in the direction looked in.
            const t = sqrt(tx * tx + ty * ty);
            u = (tx / t) * rMax;
            v = (ty / t) * rMax;
          } else if (abs(du) + abs(dv) < 1e-10) break; // a millionth of a pixel
        }
        let placeX = u * focal;
        let placeY = v * focal;
        if (takenFocal > 0) {
          const tu = placeX / takenFocal;
          const tv = placeY / takenFocal;
          placeX = distortedX(record + TAKEN + 8, tu, tv) * takenFocal;
          placeY = distortedY(record + TAKEN + 8, tu, tv) * takenFocal;
          const height = sqrt(placeX * placeX + placeY * placeY);
          if (c != 1 && height > 1e-9) {
            const further = 1 + lateralAt(takenLateral, c == 2 ? 4 : 0, height, perMm, last) / height;
            placeX *= further;
            placeY *= further;
          }
        }
        const x = placeX / pitchX + axisX;
        const y = placeY / pitchY + axisY;
        store<f32>(node + ((<usize>c) << 2), <f32>affineX(record + SOURCE_MAP, x, y));
        store<f32>(node + ((<usize>c) << 2), <f32>affineY(record + SOURCE_MAP, x, y), 16);
      }
      store<f32>(node, load<f32>(node, 4), 12);
      store<f32>(node, load<f32>(node, 20), 28);
    }
  }
}
