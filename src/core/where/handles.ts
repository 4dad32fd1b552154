import type { Handle } from "../handles/handle";
import type { Area } from "./schema";

/** What of an area is dragged on the picture, by the names of its values; `feather` is that of the whole `where`. */
export function handleOf({ kind, inverted }: Area): Handle | null {
  switch (kind) {
    case "shape":
      return {
        kind: "lines",
        label: "Shape",
        x: "x",
        y: "y",
        rotation: "rotation",
        roundness: "roundness",
        inner: { width: "width", height: "height" },
        outer: { factor: "outer" },
        full: inverted ? "outside" : "inside",
        feather: "feather",
      };
    case "polygon":
      return { kind: "polygon", label: "Polygon", points: "points", rounding: "rounding", soft: "soft" };
    default:
      return null;
  }
}
