/** How often each level occurs in each column of a picture: `columns * levels` counts a channel, level 0 first. */
export interface Waveform {
  columns: number;
  levels: number;
  red: Uint32Array;
  green: Uint32Array;
  blue: Uint32Array;
}

/** `pixels`: interleaved RGBA of 8 bits, rows from the top. Neighbouring columns share a column of the waveform. */
export function waveformOf(
  pixels: ArrayLike<number>,
  width: number,
  height: number,
  columns: number,
  levels: number,
): Waveform {
  const plane = () => new Uint32Array(columns * levels);
  const out: Waveform = { columns, levels, red: plane(), green: plane(), blue: plane() };
  const channels = [out.red, out.green, out.blue];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const column = Math.floor((x * columns) / width) * levels;
      const at = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) channels[c]![column + Math.floor((pixels[at + c]! * levels) / 256)]!++;
    }
  return out;
}
