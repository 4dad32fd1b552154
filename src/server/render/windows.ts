/** Where a picture's pixels lie against what of them is shown. */
import { NO_OVERSCAN, type Overscan, smallerOf, wholeOverscan, withOverscan } from "../../core/image/overscan";
import type { Decoded, Metadata, Picture } from "../../formats/format";
import type { RenderJob } from "./job";

/** A picture with less around what is shown. */
function trimmed(picture: Picture, has: Overscan, wanted: Overscan): Picture {
  const cut = <T extends Float32Array>(data: T, lanes: number) => withOverscan(data, picture, has, wanted, lanes);
  const { width, height, data, z, layers } = picture;
  return {
    ...picture,
    width: width - has.left - has.right + wanted.left + wanted.right,
    height: height - has.top - has.bottom + wanted.top + wanted.bottom,
    data: cut(data, 4),
    ...(z ? { z: cut(z, 1) } : {}),
    ...(layers ? { layers: layers.map((layer) => ({ ...layer, data: cut(layer.data as Float32Array, 1) })) } : {}),
  };
}

/** What a job's pictures keep of the light beyond a frame, px on each side. */
export function keptOverscan(
  { scale, overscan: share = 0 }: Pick<RenderJob, "scale" | "overscan">,
  { info, overscan: has }: Pick<Decoded, "info" | "overscan">,
): Overscan {
  const { displayWindow: display, dataWindow: data } = info;
  if (!has || !display || !data || scale !== 1) return NO_OVERSCAN;
  const most = Math.round(share * (display.right - display.left + 1));
  const there = smallerOf(has, wholeOverscan(data, display) ?? NO_OVERSCAN);
  return smallerOf(there, { left: most, top: most, right: most, bottom: most });
}

/**
 * A picture with as much around it as the job wants, and its windows as its footage has them; without windows where its
 * size is another one, since they begin at 0 then.
 */
export function withWindows(
  job: RenderJob,
  image: Decoded,
  picture: Picture,
): { picture: Picture; windows?: Metadata["windows"] } {
  const { displayWindow: display } = image.info;
  const has = image.overscan ?? NO_OVERSCAN;
  if (!display || job.scale !== 1) return { picture };
  if (picture.width === display.right - display.left + 1) return { picture, windows: { data: display, display } };
  const wanted = keptOverscan(job, image);
  const data = {
    left: display.left - wanted.left,
    top: display.top - wanted.top,
    right: display.right + wanted.right,
    bottom: display.bottom + wanted.bottom,
  };
  return { picture: trimmed(picture, has, wanted), windows: { data, display } };
}
