"use client";
import { elementsOf } from "@/core/look/edit";
import { useShownLook } from "../shot/shown-look";
import { useView } from "../view/store";
import { CameraPanel } from "./look-panel/camera-panel";
import { ElementPanel } from "./element/element-panel";
import { PanelHead } from "./panel-head";

/** At the right: what is set of the selected element, or of the camera and the view. */
export function SidePanel() {
  const { look } = useShownLook();
  const { selected } = useView("selected");
  const isThere = selected !== null && elementsOf(look).some(({ id }) => id === selected);
  return (
    <aside aria-label="Selected element" className="relative flex h-full flex-col bg-base-200">
      <PanelHead />
      {isThere ? (
        <ElementPanel key={selected} id={selected} />
      ) : (
        <div className="min-h-0 flex-1 overflow-y-auto p-3">
          <CameraPanel />
        </div>
      )}
    </aside>
  );
}
