/** What is said of a printed page: its axes and its curves. It stays in this browser until it is cleared. */
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { PrintedCurve, PrintedSpec } from "@/core/measure/printed/spec";
import type { DroppedPage } from "./page";

export type Place = [number, number];
export type AxisName = "x" | "y";
export type MarkName = "from" | "to";

/** A curve of the page; without a place or points it is still to be pointed at. */
export type DraftCurve = Omit<PrintedCurve, "from" | "points"> & { id: string; from?: Place; points?: Place[] };

interface PrintedSession {
  name: string;
  axes: PrintedSpec["axes"];
  curves: DraftCurve[];
  chosen: string | null;
  /** Of the page that the axes were marked on, and which of its file's pages it is. */
  pageName: string | null;
  pageNumber: number;
  page: DroppedPage | null;
  setName(name: string): void;
  /** Another page: its marks begin in its corners, unless it is the same one again. */
  setPage(page: DroppedPage): void;
  setAxis(axis: AxisName, change: Partial<PrintedSpec["axes"]["x"]>): void;
  setMark(axis: AxisName, mark: MarkName, change: Partial<PrintedSpec["axes"]["x"]["from"]>): void;
  addCurve(): void;
  changeCurve(id: string, change: Partial<DraftCurve>): void;
  removeCurve(id: string): void;
  choose(id: string): void;
  clear(): void;
}

/** Marks of a page that nobody has moved yet, shares of its size. */
const LOW = 0.12;
const HIGH = 0.88;
const APART = 0.08;

const axesOn = (width: number, height: number): PrintedSpec["axes"] => ({
  x: {
    scale: "linear",
    from: { value: 0, at: [LOW * width, HIGH * height] },
    to: { value: 20, at: [HIGH * width, HIGH * height] },
  },
  y: {
    scale: "linear",
    // Apart from the other axis's mark, so that each can be taken by itself.
    from: { value: 0, at: [LOW * width, (HIGH - APART) * height] },
    to: { value: 100, at: [LOW * width, LOW * height] },
  },
});

const EMPTY = { name: "", axes: axesOn(1000, 700), curves: [], chosen: null, pageName: null, pageNumber: 1 };

/** A further curve: as the last one, in its other direction, or of no frequency yet. */
function nextCurve(curves: readonly DraftCurve[]): DraftCurve {
  const id = crypto.randomUUID();
  const last = curves.at(-1);
  if (!last) return { id, quantity: "contrast", direction: "sagittal", frequency: 10, focalLength: 50, stop: 2.8 };
  const { from: _, points: __, ...rest } = last;
  const direction = last.direction === "sagittal" ? "meridional" : "sagittal";
  return { ...rest, id, ...(last.quantity === "contrast" ? { direction } : {}) };
}

export const usePrinted = create<PrintedSession>()(
  persist(
    (set) => ({
      ...EMPTY,
      page: null,
      setName: (name) => set({ name }),
      setPage: (page) =>
        set(({ pageName, pageNumber, axes, curves }) => {
          const { width, height } = page.page;
          const isSame = pageName === page.name && pageNumber === page.number;
          return {
            page,
            pageName: page.name,
            pageNumber: page.number,
            axes: isSame ? axes : axesOn(width, height),
            curves: isSame ? curves : [],
          };
        }),
      setAxis: (axis, change) => set(({ axes }) => ({ axes: { ...axes, [axis]: { ...axes[axis], ...change } } })),
      setMark: (axis, mark, change) =>
        set(({ axes }) => ({
          axes: { ...axes, [axis]: { ...axes[axis], [mark]: { ...axes[axis][mark], ...change } } },
        })),
      addCurve: () =>
        set(({ curves }) => {
          const curve = nextCurve(curves);
          return { curves: [...curves, curve], chosen: curve.id };
        }),
      changeCurve: (id, change) =>
        set(({ curves }) => ({ curves: curves.map((one) => (one.id === id ? { ...one, ...change } : one)) })),
      removeCurve: (id) =>
        set(({ curves, chosen }) => ({
          curves: curves.filter((one) => one.id !== id),
          chosen: chosen === id ? null : chosen,
        })),
      choose: (chosen) => set({ chosen }),
      clear: () => set({ ...EMPTY, page: null }),
    }),
    {
      name: "printed-chart",
      version: 1,
      skipHydration: true,
      partialize: ({ name, axes, curves, chosen, pageName, pageNumber }) => ({
        name,
        axes,
        curves,
        chosen,
        pageName,
        pageNumber,
      }),
    },
  ),
);
