"use client";
import type { ReactNode } from "react";
import { Panel } from "react-resizable-panels";
import { useOthers } from "../../compare/use-others";
import { CornersView } from "../../corners/corners-view";
import { useSource } from "../../pictures/use-source";
import { ScopesColumn } from "../../scopes/scopes-column";
import { useShownLook } from "../../shot/shown-look";
import { useView } from "../../view/store";
import { useJudging } from "../../pictures/judged";
import { Divider, Split } from "../../shared/split";
import { AlonePicture } from "./alone-picture";
import { PictureArea } from "./picture-area";
import { PictureWindow } from "./picture-window";
import { usePictures } from "./use-pictures";

/** Sizes of the columns beside the picture at first and at least, px. */
const SHELF = { defaultSize: 312, minSize: 260, maxSize: "40%" } as const;
const SCOPES = { defaultSize: 316, minSize: 280, maxSize: "50%" } as const;
const MIN_PICTURE = 240;

/** The picture, or its corners, and the scopes that are counted from it: all that is drawn anew with every frame. */
export function PictureRoom({ shelf }: { shelf: ReactNode }) {
  const { shot, look, at } = useShownLook();
  const {
    corners,
    playing,
    frame,
    ownWindow,
    shelf: open,
    scopes,
  } = useView("corners", "playing", "frame", "ownWindow", "shelf", "scopes");
  const others = useOthers(shot);
  const pictures = usePictures(shot, look, others);
  const source = useSource(shot, look);
  useJudging({ ...source, frame }, look, shot.footage.width, pictures.isResting);
  const stretch = shot.desqueezed ? 1 : shot.squeeze;
  const showsCorners = corners.open && !playing;
  const picture = showsCorners ? (
    <CornersView wanted={pictures.wanted} compared={pictures.comparedWanted} frame={shot.footage} stretch={stretch} />
  ) : (
    <PictureArea shot={shot} look={look} at={at} pictures={pictures} others={others} />
  );
  const own = ownWindow && <PictureWindow pictures={pictures} frame={shot.footage} stretch={stretch} />;
  const rooms = [...(open ? ["shelf"] : []), "picture-area", ...(scopes.open ? ["scopes"] : [])];
  return (
    <>
      <Split name="bench-picture" orientation="horizontal" rooms={rooms} className="h-full">
        {open && (
          <Panel id="shelf" {...SHELF} groupResizeBehavior="preserve-pixel-size">
            {shelf}
          </Panel>
        )}
        {open && <Divider label="Width of the drawer" />}
        <Panel id="picture-area" minSize={MIN_PICTURE}>
          <AlonePicture>{picture}</AlonePicture>
        </Panel>
        {scopes.open && <Divider label="Width of the scopes" />}
        {scopes.open && (
          <Panel id="scopes" {...SCOPES} groupResizeBehavior="preserve-pixel-size">
            <ScopesColumn
              order={{ ...source, frame }}
              look={look}
              against={pictures.against}
              picture={pictures.shown.picture}
            />
          </Panel>
        )}
      </Split>
      {own}
    </>
  );
}
