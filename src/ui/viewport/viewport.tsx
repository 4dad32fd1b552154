"use client";
import { type ReactNode, useEffect, useRef, useState } from "react";
import {
  type Extent,
  type Looking,
  panned,
  type ViewTransform,
  viewTransformOf,
  rowsInSight,
  type Shown,
  type Spot,
  toFrame,
  zoomedAt,
} from "./place";
import { FIRST_BUTTON, MIDDLE_BUTTON, type PressEvent, useDragOver } from "../shared/drag";

/** A drag that a tool has begun: it hears every further place, and the end. */
export interface Drag {
  move(at: Spot, event: PressEvent): void;
  end?(): void;
}

/** What takes the pointer over the picture. Tools are asked in turn; the first that begins a drag has it to its end. */
export interface Tool {
  /** Begins at a place of the frame, px, with the first button; null leaves it to the next. */
  press(at: Spot, placing: ViewTransform): Drag | null;
}

/** What of a frame is in sight. */
export interface Sight {
  /** The rows that are, [first, after the last); null for all. */
  rows: readonly [number, number] | null;
  /** Pixels of the screen for one of the frame, in the direction where they are more. */
  scale: number;
}

interface Props {
  /** The frame's size, px, and how much wider it is shown. */
  frame: Extent;
  stretch: number;
  looking: Looking;
  onLooking(looking: Looking): void;
  tools: readonly Tool[];
  cursor?: string;
  /** The place under the cursor while nothing is dragged; null outside the room. */
  onHover(at: Spot | null): void;
  onDoubleClick?(): void;
  /** What is in sight, whenever it is another. */
  onSight?(sight: Sight): void;
  /** What lies over one another, the undermost first. */
  children(placing: ViewTransform, room: Extent): ReactNode;
}

/** Wheel movement that doubles the size. */
const WHEEL_TWICE = 300;
const MIDDLE = 1;

/** A frame in a room: zoomed at the cursor with the wheel, panned by dragging, and what lies over it. */
export function Viewport(props: Props) {
  const { frame, stretch, looking, onLooking, tools, cursor, onHover, onDoubleClick, onSight, children } = props;
  const node = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState<Extent>({ width: 0, height: 0 });
  const drags = useRef<Drag | null>(null);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) =>
      setRoom({ width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    observer.observe(node.current!);
    return () => observer.disconnect();
  }, []);
  const ratio = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  const shown: Shown = { ...frame, stretch, ratio };
  const placing = viewTransformOf(looking, room, shown);

  const rows = room.height ? rowsInSight(placing, room, frame) : null;
  const [first, end] = rows ?? [null, null];
  const scale = Math.max(placing.scaleX, placing.scaleY) * ratio;
  const isMeasured = room.height > 0;
  useEffect(() => {
    if (isMeasured) onSight?.({ rows: first === null ? null : [first, end!], scale });
    // The rows, not the list they come in.
  }, [isMeasured, first, end, scale]); // eslint-disable-line react-hooks/exhaustive-deps

  const inRoom = (event: { clientX: number; clientY: number }): Spot => {
    const box = node.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };

  // React hears wheels passively; the page must not scroll or zoom along.
  const newest = useRef({ looking, room, shown, onLooking });
  useEffect(() => {
    newest.current = { looking, room, shown, onLooking };
  });
  useEffect(() => {
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { looking, room, shown, onLooking } = newest.current;
      onLooking(zoomedAt(looking, 2 ** (-event.deltaY / WHEEL_TWICE), inRoom(event), room, shown));
    };
    const element = node.current!;
    element.addEventListener("wheel", turn, { passive: false });
    return () => element.removeEventListener("wheel", turn);
  }, []);

  const pan = (start: Spot): Drag => ({
    move: (_, event) => {
      const to = inRoom(event);
      onLooking(panned(looking, { x: to.x - start.x, y: to.y - start.y }, room, shown));
    },
  });
  const begun = (at: Spot, { button }: PressEvent): Drag | null => {
    if (button === MIDDLE) return pan(at);
    for (const tool of tools) {
      const taken = tool.press(toFrame(placing, at), placing);
      if (taken) return taken;
    }
    return looking.zoom === "fit" ? null : pan(at);
  };
  const bind = useDragOver(
    node,
    {
      press: (_: void, at, event) => {
        drags.current = begun(at, event);
        return drags.current;
      },
      move: (drag, at, event) => drag.move(toFrame(placing, at), event),
      end: (drag) => {
        drag.end?.();
        drags.current = null;
      },
    },
    [FIRST_BUTTON, MIDDLE_BUTTON],
  );

  return (
    <div
      ref={node}
      className="absolute inset-0 touch-none"
      style={{ cursor: cursor ?? (looking.zoom === "fit" ? undefined : "grab") }}
      {...bind()}
      onPointerMove={(event) => drags.current || onHover(toFrame(placing, inRoom(event)))}
      onPointerLeave={() => onHover(null)}
      onDoubleClick={onDoubleClick}
    >
      {children(placing, room)}
    </div>
  );
}
