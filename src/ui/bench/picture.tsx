"use client";
import { type PointerEvent, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { elementsOf, inArea, type Settable, setAt, whereOf } from "@/core/look/edit";
import { upTo } from "@/core/look/excerpt";
import type { Look } from "@/core/look/look";
import { browserEngine, type Picture } from "../engine/engine";
import { AreaPoints } from "./area-points";
import { useBench } from "./store";
import type { Shown } from "./use-pictures";
import { useSource } from "./use-source";
import type { ShotDetail } from "../../contract/shots";

const MID_GREY = 0.18;
const STEP = 0.02;

function Canvas({ picture, name, style }: { picture: Picture | null; name: string; style: React.CSSProperties }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const node = canvas.current;
    if (!node || !picture) return;
    if (node.width !== picture.width || node.height !== picture.height) {
      node.width = picture.width;
      node.height = picture.height;
    }
    node
      .getContext("2d", { alpha: false })!
      .putImageData(new ImageData(picture.pixels, picture.width, picture.height), 0, 0);
    node.dataset.serial = String(Number(node.dataset.serial ?? 0) + 1);
    node.dataset.divide = String(picture.divide);
    node.dataset.milliseconds = picture.milliseconds.toFixed(0);
  }, [picture]);
  return (
    <canvas
      ref={canvas}
      data-picture={name}
      aria-label={name === "picture" ? "The picture" : "The picture without"}
      role="img"
      className="absolute top-0 left-0 origin-top-left"
      style={style}
    />
  );
}

interface Values {
  x: number;
  y: number;
  light: [number, number, number] | null;
  code: [number, number, number] | null;
}

const stops = (light: number) =>
  light > 1e-6
    ? Math.log2(light / MID_GREY)
        .toFixed(1)
        .replace("-", "−")
        .padStart(5)
    : "   —";

/** The picture: pan and zoom, a wipe, and the light under the cursor. */
export function PictureArea({
  shot,
  look,
  shown,
  without,
}: {
  shot: ShotDetail;
  look: Look;
  shown: Shown;
  without: Shown;
}) {
  const { zoom, held, wipe, matte, area: shownArea, frame, picking, selected, change, set } = useBench();
  const area = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [pan, setPan] = useState({ x: 0, y: 0 });
  const [edge, setEdge] = useState(0.5);
  const [values, setValues] = useState<Values | null>(null);
  const drag = useRef<{ x: number; y: number; panX: number; panY: number; wiping: boolean } | null>(null);
  const { width, height } = shot.footage;
  // Squeezed frames are shown as the scene was: wider.
  const stretch = shot.desqueezed ? 1 : shot.squeeze;

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) =>
      setSize({ width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    observer.observe(area.current!);
    return () => observer.disconnect();
  }, []);

  // One picture pixel is one device pixel at 1:1.
  const ratio = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  const scale = zoom === "fit" ? Math.min(size.width / (width * stretch), size.height / height) || 1 : zoom / ratio;
  const room = (extent: number, inside: number, offset: number) => {
    const spare = inside - extent;
    return spare >= 0 ? spare / 2 : Math.min(0, Math.max(spare, spare / 2 + offset));
  };
  const left = room(width * stretch * scale, size.width, zoom === "fit" ? 0 : pan.x);
  const top = room(height * scale, size.height, zoom === "fit" ? 0 : pan.y);

  const place = useCallback(
    (event: PointerEvent) => {
      const box = area.current!.getBoundingClientRect();
      return { x: (event.clientX - box.left - left) / (scale * stretch), y: (event.clientY - box.top - top) / scale };
    },
    [left, top, scale, stretch],
  );

  const read = (event: PointerEvent) => {
    const { x, y } = place(event);
    if (x < 0 || y < 0 || x >= width || y >= height) return setValues(null);
    const { picture } = shown;
    let code: Values["code"] = null;
    if (picture) {
      const at =
        (Math.floor((y / height) * picture.height) * picture.width + Math.floor((x / width) * picture.width)) * 4;
      code = [picture.pixels[at]!, picture.pixels[at + 1]!, picture.pixels[at + 2]!];
    }
    setValues((before) => ({ x: Math.floor(x), y: Math.floor(y), light: before?.light ?? null, code }));
    browserEngine().probe("probe", orderOf(look), { x: Math.floor(x), y: Math.floor(y) }, (light) =>
      setValues((before) => before && { ...before, light }),
    );
  };
  const source = useSource(shot, look);
  const orderOf = (of: Look) => ({ ...source, look: of, frame, divide: 1, output: { kind: "light" as const } });

  const owner = selected && elementsOf(look).some(({ id }) => id === selected) ? selected : null;
  const picked = picking && whereOf(look, owner)?.areas.find(({ id }) => id === picking.area);
  const setPicked = (name: string, value: Settable) =>
    picked && change(setAt(look, inArea(owner, picked, name), value, frame));

  /** The light an element's key will see under the cursor, as its colour. */
  const pickColour = (event: PointerEvent) => {
    const { x, y } = place(event);
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    const at = { x: Math.floor(x), y: Math.floor(y) };
    browserEngine().probe("pick", orderOf(upTo(look, owner)), at, (light) => {
      setPicked("colour", light.map((value) => Math.min(1000, Math.max(0, value))) as [number, number, number]);
      set({ picking: null });
    });
  };

  const onDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    if (picking?.what === "colour" && picked) return pickColour(event);
    const { x } = place(event);
    const wiping = wipe !== null && Math.abs(x / width - edge) * width * stretch * scale < 14;
    drag.current = { x: event.clientX, y: event.clientY, panX: pan.x, panY: pan.y, wiping };
    area.current!.setPointerCapture(event.pointerId);
  };
  const onMove = (event: PointerEvent) => {
    const start = drag.current;
    if (!start) return read(event);
    if (start.wiping) setEdge(Math.min(1, Math.max(0, place(event).x / width)));
    else if (zoom !== "fit")
      setPan({ x: start.panX + event.clientX - start.x, y: start.panY + event.clientY - start.y });
  };

  const style = (picture: Picture | null): React.CSSProperties => ({
    transform: `translate(${left}px, ${top}px) scale(${picture ? (width * stretch * scale) / picture.width : 1}, ${picture ? (height * scale) / picture.height : 1})`,
    imageRendering: scale * ratio >= 2 && picture?.divide === 1 ? "pixelated" : "auto",
  });
  const showWithout = held !== null || wipe !== null;
  const clip = held ? undefined : `inset(0 ${100 - edge * 100}% 0 0)`;
  const wipeName = wipe === "path" ? "without the path" : "without this element";

  return (
    <section
      aria-label="Picture"
      aria-busy={shown.busy || (showWithout && without.busy)}
      className="relative h-full min-h-0 overflow-hidden bg-[#101010]"
    >
      <div
        ref={area}
        className={`absolute inset-0 touch-none ${picking ? "cursor-crosshair" : zoom === "fit" ? "" : "cursor-grab active:cursor-grabbing"}`}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={() => (drag.current = null)}
        onPointerLeave={() => setValues(null)}
        onDoubleClick={() => !picking && set({ zoom: zoom === "fit" ? 1 : "fit" })}
      >
        <Canvas picture={shown.picture} name="picture" style={style(shown.picture)} />
        {showWithout && (
          <Canvas picture={without.picture} name="without" style={{ ...style(without.picture), clipPath: clip }} />
        )}
        {wipe && !held && (
          <div
            role="slider"
            tabIndex={0}
            aria-label="Edge of the wipe"
            aria-valuenow={Math.round(edge * 100)}
            aria-valuemin={0}
            aria-valuemax={100}
            onKeyDown={(event) => {
              if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
              event.preventDefault();
              event.stopPropagation();
              setEdge((value) => Math.min(1, Math.max(0, value + (event.key === "ArrowLeft" ? -STEP : STEP))));
            }}
            className="absolute w-px cursor-ew-resize bg-halo"
            style={{
              left: left + edge * width * stretch * scale,
              top: Math.max(0, top),
              height: Math.min(size.height, height * scale),
            }}
          >
            <span className="absolute top-2 right-2 rounded bg-black/60 px-1.5 whitespace-nowrap">{wipeName}</span>
            <span className="absolute top-2 left-2 rounded bg-black/60 px-1.5">with</span>
          </div>
        )}
      </div>
      {picking?.what === "points" && picked?.kind === "polygon" && (
        <AreaPoints
          points={picked.points}
          left={left}
          top={top}
          width={width * stretch * scale}
          height={height * scale}
          onChange={(points) => setPicked("points", points)}
        />
      )}
      {held && (
        <p className="absolute top-2 left-2 rounded bg-black/60 px-2">
          {held === "path" ? "Without the whole path" : "Without this element"}
        </p>
      )}
      {shownArea && (
        <p className="absolute top-2 left-2 rounded bg-black/60 px-2">
          {shownArea === "matte"
            ? "The area the element acts on: white is full"
            : "The area the element acts on, tinted"}
        </p>
      )}
      {matte && !shownArea && (
        <p className="absolute top-2 left-2 rounded bg-black/60 px-2">Matte of the highlight key: white is taken</p>
      )}
      {shown.problem && (
        <p
          role="alert"
          className="absolute inset-x-0 top-1/2 mx-auto w-fit -translate-y-1/2 rounded border border-line bg-base-200 px-4 py-2"
        >
          {shown.problem}
        </p>
      )}
      {!shown.picture && !shown.problem && (
        <p className="absolute inset-x-0 top-1/2 text-center text-quiet">Making the picture …</p>
      )}
      <output
        aria-label="Light under the cursor"
        className="figures pointer-events-none absolute right-2 bottom-2 rounded bg-black/65 px-2 py-0.5 whitespace-pre"
      >
        {values
          ? `${String(values.x).padStart(4)}, ${String(values.y).padStart(4)}   stops ${values.light ? values.light.map(stops).join(" ") : "  …"}   code ${values.code ? values.code.map((c) => String(c).padStart(3)).join(" ") : "…"}`
          : `${width} × ${height}   ${(scale * ratio * 100).toFixed(0)} %${shown.picture ? `   ${shown.picture.divide > 1 ? "proxy" : "full"} ${shown.picture.milliseconds.toFixed(0)} ms` : ""}`}
      </output>
    </section>
  );
}
