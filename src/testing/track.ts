import type { Track } from "../core/track/track";

/**
 * A track of something that goes across the frame: how far (% of its width) on the first frame, the second, and so on.
 */
export const trackAcross = (id: string, x: number[]): Track => ({
  id,
  name: "Figure",
  model: "position",
  reference: 1,
  region: { x: 0, y: 0, width: 10, height: 10 },
  first: 1,
  x,
  y: x.map(() => 0),
  scale: x.map(() => 1),
  rotation: x.map(() => 0),
  confidence: x.map(() => 1),
});
