"use client";
import { useEffect, useMemo } from "react";
import { Panel } from "react-resizable-panels";
import { isTimed } from "@/core/look/edit";
import { firstOf } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import type { Cabinet } from "@/core/profile/profiles";
import { browserEngine } from "../engine/engine";
import { ShelfDrawer } from "../looks/shelf";
import { ConflictBar } from "../shot/conflict-bar";
import { useGestures } from "../shot/gestures";
import { lookAtFrame, ShownLookProvider } from "../shot/shown-look";
import { useDepth } from "../shot/use-depth";
import type { Named } from "../shot/use-named";
import { useSaving } from "../shot/use-saving";
import { rememberCompare } from "../view/compare";
import { hearView, useView, useViewValue, viewNow } from "../view/store";
import { FrameStrip } from "./frame-strip";
import { SidePanel } from "./side-panel";
import { LightPath } from "./path/light-path";
import { PictureRoom } from "./picture/picture-room";
import { Divider, Split } from "../shared/split";
import { TimeDrawer } from "./time/drawer";
import { Toolbar } from "./toolbar";
import { useAddress } from "./use-address";
import { useBenchCommands } from "./use-commands";
import type { ShotDetail } from "../../contract/shots";

/**
 * Gives the engine what looks may name. It stands before those that ask for pictures, so that its effect comes first.
 */
function Glass({ profiles, tables }: Named) {
  useEffect(() => browserEngine().setCabinet(profiles, tables), [profiles, tables]);
  return null;
}

/** Remembers how each shot is compared. */
const useRememberedCompare = (shotId: string) =>
  useEffect(() => {
    let last = viewNow().compare;
    return hearView(({ compare }) => {
      if (compare !== last) rememberCompare(shotId, compare);
      last = compare;
    });
  }, [shotId]);

/** Sizes of the rooms at first and at least, px. The picture keeps at least half of the window's height. */
const PANEL = { defaultSize: "27%", minSize: 360, maxSize: "45%" } as const;
const PATH = { defaultSize: 128, minSize: 122, maxSize: 200 } as const;
const TIME = { defaultSize: 252, minSize: 110 } as const;
const MIN_PICTURE = "50vh";

/** One shot: its picture, its light path, its frames, and what is set of the selected element. */
export function Bench({
  shot,
  look,
  cabinet,
  named,
}: {
  shot: ShotDetail;
  look: Look;
  cabinet: Cabinet;
  named: Named;
}) {
  const { timeDrawer } = useView("timeDrawer");
  useSaving(shot);
  useDepth(shot);
  useGestures();
  useBenchCommands(shot);
  useAddress();
  useRememberedCompare(shot.id);
  // What nothing moves is the same at every frame, and need not be drawn anew while it plays.
  const isMoving = isTimed(look);
  const moment = useViewValue(({ frame }) => (isMoving ? frame : firstOf(shot.frames)));
  const at = useMemo(() => lookAtFrame({ shot, look, cabinet }, moment), [look, cabinet, shot, moment]);
  const shown = useMemo(() => ({ shot, look, at, cabinet }), [shot, look, at, cabinet]);
  const shelf = useMemo(() => <ShelfDrawer />, []);
  const rooms = ["picture", "path", ...(timeDrawer ? ["time"] : [])];
  return (
    <ShownLookProvider value={shown}>
      <Glass {...named} />
      <Split name="bench" orientation="horizontal" rooms={["left", "panel"]} className="h-full">
        <Panel id="left" className="flex h-full min-h-0 min-w-0 flex-col">
          <Toolbar shot={shot} look={look} />
          <ConflictBar shot={shot} />
          <Split name="bench-rows" orientation="vertical" rooms={rooms} className="min-h-0 flex-1">
            <Panel id="picture" minSize={MIN_PICTURE}>
              <PictureRoom shelf={shelf} />
            </Panel>
            <Divider label="Height of the light path" />
            <Panel id="path" {...PATH} groupResizeBehavior="preserve-pixel-size">
              <LightPath look={look} at={at} />
            </Panel>
            {timeDrawer && <Divider label="Height of the time drawer" />}
            {timeDrawer && (
              <Panel id="time" {...TIME} groupResizeBehavior="preserve-pixel-size">
                <TimeDrawer />
              </Panel>
            )}
          </Split>
          <FrameStrip shot={shot} />
        </Panel>
        <Divider label="Width of the panel" />
        <Panel id="panel" {...PANEL}>
          <SidePanel />
        </Panel>
      </Split>
    </ShownLookProvider>
  );
}
