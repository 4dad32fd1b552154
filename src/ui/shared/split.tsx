"use client";
import { type ReactNode, useMemo } from "react";
import { Group, type LayoutStorage, Separator, useDefaultLayout } from "react-resizable-panels";

/** The browser keeps how the Bench is divided; one that keeps nothing begins as at first. */
const storage: LayoutStorage = {
  getItem: (key) => {
    try {
      return localStorage.getItem(key);
    } catch {
      return null;
    }
  },
  setItem: (key, value) => {
    try {
      localStorage.setItem(key, value);
    } catch {
      // Private windows may refuse.
    }
  },
};

/** Rooms beside one another, or below one another, whose sizes are dragged and remembered for each choice of them. */
export function Split({
  name,
  orientation,
  rooms,
  children,
  className,
}: {
  name: string;
  orientation: "horizontal" | "vertical";
  /** The ids of the panels among the children. */
  rooms: readonly string[];
  children: ReactNode;
  className?: string;
}) {
  const panelIds = useMemo(() => [...rooms], [rooms.join()]); // eslint-disable-line react-hooks/exhaustive-deps
  const layout = useDefaultLayout({ id: `pale-halo ${name}`, panelIds, storage });
  return (
    <Group id={name} orientation={orientation} className={className} {...layout}>
      {children}
    </Group>
  );
}

/** The line between two rooms: dragged, or moved by arrow keys. */
export const Divider = ({ label }: { label: string }) => (
  <Separator
    aria-label={label}
    className="shrink-0 bg-line outline-none hover:bg-halo/60 focus-visible:bg-halo aria-[orientation=horizontal]:h-px aria-[orientation=vertical]:w-px data-[separator=active]:bg-halo"
  />
);
