import type { Motion } from "../track/track";
import type { Movement, Point } from "./definition";
import { areaDefinition } from "./registry";
import type { Area } from "./schema";

/**
 * A motion about a place: where (% of the frame's size from its centre) the followed thing was, and the frame's shape.
 */
export interface Carried {
  motion: Motion;
  anchor: Point;
  /** Width over height, px. */
  aspect: number;
}

/** Where a place of the reference frame has gone: turned and grown about the anchor, and moved along with it. */
function carried([x, y]: Point, { motion, anchor, aspect }: Carried): Point {
  const turn = (motion.rotation * Math.PI) / 180;
  const [c, s] = [Math.cos(turn) * motion.scale, Math.sin(turn) * motion.scale];
  // In % of height both ways, so that turning is turning.
  const [u, v] = [(x - anchor[0]) * aspect, y - anchor[1]];
  return [anchor[0] + motion.x + (u * c - v * s) / aspect, anchor[1] + motion.y + u * s + v * c];
}

/** The same the other way: where a place was on the reference frame. */
function carriedBack([x, y]: Point, { motion, anchor, aspect }: Carried): Point {
  const turn = (motion.rotation * Math.PI) / 180;
  const [c, s] = [Math.cos(turn) / motion.scale, Math.sin(turn) / motion.scale];
  const [u, v] = [(x - anchor[0] - motion.x) * aspect, y - anchor[1] - motion.y];
  return [anchor[0] + (u * c + v * s) / aspect, anchor[1] - u * s + v * c];
}

const movedBy = (area: Area, by: Movement): Area => areaDefinition(area).moved?.(area, by) ?? area;

/** An area as it is where what it follows has gone; areas without a place stay as they are. */
export const followed = (area: Area, by: Carried): Area =>
  movedBy(area, { carry: (at) => carried(at, by), scale: by.motion.scale, rotation: by.motion.rotation });

/** The same the other way: an area as it was on the track's reference frame. */
export const followedBack = (area: Area, by: Carried): Area =>
  movedBy(area, { carry: (at) => carriedBack(at, by), scale: 1 / by.motion.scale, rotation: -by.motion.rotation });
