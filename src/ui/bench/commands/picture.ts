import type { Command } from "../../shell/command";
import { lookNow } from "../../shot/document";
import { exposureBy } from "../../view/exposure";
import { isThere, PICTURE } from "../../view/inspect";
import { setView, viewNow } from "../../view/store";
import { LARGEST_ZOOM, type Looking, MIN_ZOOM, WHOLE } from "../../viewport/place";

const look = (change: Partial<Looking>) => setView({ looking: { ...viewNow().looking, ...change } });
const zoomTo = (zoom: number) => () => look({ zoom });
/** Larger or smaller by a step, from whatever size it is. */
const zoomBy = (factor: number) => () => {
  const { zoom } = viewNow().looking;
  look({ zoom: Math.min(LARGEST_ZOOM, Math.max(MIN_ZOOM, (zoom === "fit" ? 1 : zoom) * factor)) });
};

const expose = (steps: 1 | -1) => setView({ exposure: exposureBy(viewNow().exposure, steps) });

/** What the picture shows, how large and how bright. */
export const PICTURE_COMMANDS: readonly Command[] = [
  {
    name: "Centre and corners",
    group: "Picture",
    keys: ["c"],
    isOn: () => viewNow().corners.open,
    run: () => setView({ corners: { ...viewNow().corners, open: !viewNow().corners.open } }),
  },
  {
    name: "Scopes, shown or hidden",
    group: "Picture",
    keys: ["s"],
    isOn: () => viewNow().scopes.open,
    run: () => setView({ scopes: { ...viewNow().scopes, open: !viewNow().scopes.open } }),
  },
  {
    name: "Matte of the highlight key",
    group: "Picture",
    keys: ["m"],
    run: () => {
      const { selected, inspect } = viewNow();
      const look = lookNow();
      const matte = { kind: "matte" } as const;
      if (look && isThere(matte, look, selected)) setView({ inspect: inspect.kind === "matte" ? PICTURE : matte });
    },
  },
  {
    name: "What the element added and took away, four times",
    group: "Picture",
    keys: ["d"],
    run: () => {
      const { selected, inspect } = viewNow();
      const look = lookNow();
      const added = { kind: "contribution", times: 4 } as const;
      if (look && isThere(added, look, selected))
        setView({ inspect: inspect.kind === "contribution" ? PICTURE : added });
    },
  },
  {
    name: "Fit the picture to the room, or 1:1",
    group: "Picture",
    keys: ["f"],
    run: () => setView({ looking: viewNow().looking.zoom === "fit" ? { ...WHOLE, zoom: 1 } : WHOLE }),
  },
  { name: "1:1", group: "Picture", keys: ["1"], run: zoomTo(1) },
  { name: "2:1", group: "Picture", keys: ["2"], run: zoomTo(2) },
  { name: "4:1", group: "Picture", keys: ["4"], run: zoomTo(4) },
  { name: "Larger", group: "Picture", keys: ["+", "Shift++"], run: zoomBy(Math.SQRT2) },
  { name: "Smaller, to see lines beyond the frame", group: "Picture", keys: ["-"], run: zoomBy(Math.SQRT1_2) },
  {
    name: "The picture alone, and back",
    group: "Picture",
    keys: ["Shift+F"],
    isOn: () => viewNow().pictureAlone,
    run: () => setView({ pictureAlone: !viewNow().pictureAlone }),
  },
  {
    name: "The picture in a window of its own",
    group: "Picture",
    isOn: () => viewNow().ownWindow,
    run: () => setView({ ownWindow: !viewNow().ownWindow }),
  },
  { name: "Viewed lighter, half a stop", group: "Picture", keys: ["."], run: () => expose(1) },
  { name: "Viewed darker, half a stop", group: "Picture", keys: [","], run: () => expose(-1) },
  { name: "Viewed as it is", group: "Picture", keys: ["/"], run: () => setView({ exposure: 0 }) },
  {
    name: "Handles on the picture, shown or hidden",
    group: "Picture",
    keys: ["h"],
    isOn: () => viewNow().handles,
    run: () => setView({ handles: !viewNow().handles }),
  },
];
