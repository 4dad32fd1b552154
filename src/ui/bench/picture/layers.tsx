import { wipeClip } from "../../compare/wipe";
import type { Shown } from "../../pictures/use-picture";
import type { WipeLine } from "../../view/compare";
import { PictureLayer } from "../../viewport/picture-layer";
import type { Extent, ViewTransform } from "../../viewport/place";

/** The picture where its frame lies. */
export const OwnLayer = ({ shown, frame, placing }: { shown: Shown; frame: Extent; placing: ViewTransform }) => (
  <PictureLayer
    picture={shown.picture}
    under={shown.under}
    name="picture"
    label="The picture"
    frame={frame}
    placing={placing}
  />
);

/** What it is compared with, over it; with a line, only on that side of it. */
export function ReferenceLayer({
  other,
  frame,
  placing,
  line,
}: {
  other: Shown | null;
  frame: Extent;
  placing: ViewTransform;
  line?: WipeLine;
}) {
  if (!other) return null;
  return (
    <div className="absolute inset-0" style={{ clipPath: line && wipeClip(line, frame, placing) }}>
      <PictureLayer
        picture={other.picture}
        under={other.under}
        name="reference"
        label="What it is compared with"
        frame={frame}
        placing={placing}
      />
    </div>
  );
}
