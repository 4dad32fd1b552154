"use client";
import { LRUCache } from "lru-cache";
import { type ReactNode, type RefObject, useLayoutEffect, useRef, useState } from "react";

export const SECTIONS = ["what", "where", "when"] as const;
export type SectionName = (typeof SECTIONS)[number];
export const SECTION_LABELS: Record<SectionName, string> = { what: "What", where: "Where", when: "When" };

/** How far each element's panel was scrolled, px, so that it is found as it was left. */
const scrolledTo = new LRUCache<string, number>({ max: 500 });

export interface Sections {
  room: RefObject<HTMLDivElement | null>;
  /** The section that is being looked at. */
  current: SectionName;
  go(to: SectionName): void;
  onScroll(): void;
}

/** Above a section's heading is left so much, px. */
const ABOVE = 8;

const sectionIn = (room: HTMLElement, name: SectionName) => room.querySelector<HTMLElement>(`[data-section=${name}]`);

/** The sections of an element's panel: which one is looked at, and the way to each. */
export function useSections(id: string): Sections {
  const room = useRef<HTMLDivElement>(null);
  const [current, setCurrent] = useState<SectionName>("what");
  /** The section that was asked for, and where that led: it is the current one until something else is scrolled to. */
  const asked = useRef<{ name: SectionName; top: number } | null>(null);
  const look = () => {
    const node = room.current;
    if (!node) return;
    if (asked.current?.top === node.scrollTop) return setCurrent(asked.current.name);
    asked.current = null;
    const reached = SECTIONS.findLast((name) => {
      const section = sectionIn(node, name);
      return section !== null && section.offsetTop - node.offsetTop <= node.scrollTop + ABOVE + node.clientHeight / 3;
    });
    setCurrent(reached ?? "what");
  };
  useLayoutEffect(() => {
    if (room.current) room.current.scrollTop = scrolledTo.get(id) ?? 0;
    look();
  }, [id]);
  return {
    room,
    current,
    go: (to) => {
      const node = room.current;
      const section = node && sectionIn(node, to);
      if (!node || !section) return;
      node.scrollTop = to === "what" ? 0 : section.offsetTop - node.offsetTop - ABOVE;
      asked.current = { name: to, top: node.scrollTop };
      setCurrent(to);
    },
    onScroll: () => {
      scrolledTo.set(id, room.current?.scrollTop ?? 0);
      look();
    },
  };
}

/** One section of an element's panel. */
export const Section = ({ name, children }: { name: SectionName; children: ReactNode }) => (
  <div data-section={name} className="flex flex-col gap-2">
    {name === "when" && <h3 className="border-b border-line pt-1 font-semibold">{SECTION_LABELS[name]}</h3>}
    {children}
  </div>
);
