/**
 * How a movie's samples are taken from ffmpeg: in planes, of the movie's own depth and chroma, so that it converts
 * nothing.
 */
export interface MovieSamples {
  /** What ffmpeg is asked for: the movie's own, or the same samples in planes. */
  pixelFormat: string;
  chroma: "420" | "422" | "444" | "mono";
  bits: number;
  /** Planes of green, blue and red. */
  isRgb: boolean;
  /** A fourth plane, of the first one's size. */
  hasAlpha: boolean;
  /** Codes from 0 on by the format itself. */
  isFull: boolean;
  /** Where they come pixel by pixel: how many samples each has, and where those of each plane are. */
  pixels?: { size: number; planes: number[] };
}

/** Luma and chroma among one another, and the planar format that ffmpeg makes of them without a change. */
const PACKED: Record<string, string> = {
  nv12: "yuv420p",
  nv16: "yuv422p",
  nv24: "yuv444p",
  yuyv422: "yuv422p",
  uyvy422: "yuv422p",
};

/** Pixels of RGB, as ffmpeg names their order, 0 for a byte that says nothing. It rounds them on its way to planes. */
const PIXELS = ["rgb24", "bgr24", "rgb0", "bgr0", "0rgb", "0bgr", "rgba", "bgra", "argb", "abgr"].concat([
  "rgb48le",
  "rgba64le",
]);

function pixelsOf(name: string): MovieSamples | null {
  if (!PIXELS.includes(name)) return null;
  const order = /^[rgba0]+/.exec(name)![0];
  const hasAlpha = order.includes("a");
  return {
    pixelFormat: name,
    chroma: "444",
    bits: /48|64/.test(name) ? 16 : 8,
    isRgb: true,
    hasAlpha,
    isFull: true,
    pixels: {
      size: order.length,
      planes: ["g", "b", "r", ...(hasAlpha ? ["a"] : [])].map((one) => order.indexOf(one)),
    },
  };
}

/** A frame's samples in planes. */
export function planesOf({ pixels, bits }: MovieSamples, frame: Buffer): Buffer {
  if (!pixels) return frame;
  const { size, planes } = pixels;
  const bytes = bits > 8 ? 2 : 1;
  const count = frame.length / size / bytes;
  const out = Buffer.alloc(count * planes.length * bytes);
  planes.forEach((from, plane) => {
    for (let i = 0; i < count; i++)
      for (let byte = 0; byte < bytes; byte++)
        out[(plane * count + i) * bytes + byte] = frame[(i * size + from) * bytes + byte]!;
  });
  return out;
}

/** How samples of a pixel format, as ffmpeg names them, are taken; null for those that are not read. */
export function samplesOf(pixelFormat: string): MovieSamples | null {
  const pixels = pixelsOf(pixelFormat);
  if (pixels) return pixels;
  const name = PACKED[pixelFormat] ?? pixelFormat;
  const ordered = (planes: string, bits: number) => `${planes}${bits > 8 ? `${bits}le` : ""}`;
  const yuv = /^yuv(a?)(j?)(420|422|444)p(\d+)?(?:le|be)?$/.exec(name);
  if (yuv) {
    const [, alpha, jpeg, chroma, depth = "8"] = yuv;
    return {
      pixelFormat: ordered(`yuv${alpha}${jpeg}${chroma}p`, Number(depth)),
      chroma: chroma as "420",
      bits: Number(depth),
      isRgb: false,
      hasAlpha: alpha === "a",
      isFull: jpeg === "j",
    };
  }
  const rgb = /^gbr(a?)p(\d+)?(?:le|be)?$/.exec(name);
  if (rgb) {
    const [, alpha, depth = "8"] = rgb;
    return {
      pixelFormat: ordered(`gbr${alpha}p`, Number(depth)),
      chroma: "444",
      bits: Number(depth),
      isRgb: true,
      hasAlpha: alpha === "a",
      isFull: true,
    };
  }
  const gray = /^gray(\d+)?(?:le|be)?$/.exec(name);
  if (!gray) return null;
  const bits = Number(gray[1] ?? 8);
  return { pixelFormat: ordered("gray", bits), chroma: "mono", bits, isRgb: false, hasAlpha: false, isFull: false };
}

/** Bytes of one frame as ffmpeg gives it. */
export function bytesOf({ chroma, bits, hasAlpha, pixels }: MovieSamples, width: number, height: number): number {
  const half = (size: number) => (size + 1) >> 1;
  const part = {
    mono: 0,
    "420": half(width) * half(height),
    "422": half(width) * height,
    "444": width * height,
  }[chroma];
  const samples = pixels ? width * height * pixels.size : width * height * (hasAlpha ? 2 : 1) + 2 * part;
  return samples * (bits > 8 ? 2 : 1);
}
