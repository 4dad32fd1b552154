import { LRUCache } from "lru-cache";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { nearestFirst, type Tile } from "@/core/wall/axis";
import { useChannel } from "../engine/engine";
import { type Picture, type PictureOrder, PRIORITY } from "../engine/questions";

/** Pictures kept, bytes: some walls of tiles, and what was looked at of them. */
const MAX_BYTES = 256 * 2 ** 20;
/** A frame that is still being computed is asked for again after this, ms. */
const RETRY_AFTER = 1000;

type Place = Pick<Tile, "row" | "column">;

/** A tile's picture that is wanted: where it stands, and what it is of. */
export interface WantedTile extends Place {
  name: string;
  order: PictureOrder;
}

export interface TilePictures {
  /** By the tiles' names: what is wanted or, until it is there, what was shown last. */
  pictures: ReadonlyMap<string, Picture>;
  /** Tiles whose picture is not there yet. */
  waiting: number;
  problem: string | null;
}

/** Makes the pictures of tiles one after another, the nearest to a place first; what was made is kept. */
export function useTilePictures(wanted: readonly WantedTile[], near: { current: Place }): TilePictures {
  const channel = useChannel(PRIORITY.picture);
  const made = useRef(
    new LRUCache<string, Picture>({ maxSize: MAX_BYTES, sizeCalculation: ({ pixels }) => pixels.length }),
  );
  const [pictures, setPictures] = useState<ReadonlyMap<string, Picture>>(new Map());
  const [waiting, setWaiting] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const keyed = useMemo(() => wanted.map((tile) => ({ ...tile, key: JSON.stringify(tile.order) })), [wanted]);
  const show = useCallback(
    (name: string, picture: Picture) => setPictures((before) => new Map(before).set(name, picture)),
    [],
  );
  useEffect(() => {
    let isOver = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const there = keyed.filter(({ key }) => made.current.has(key));
    setPictures((before) => {
      const names = new Set(keyed.map(({ name }) => name));
      const after = new Map([...before].filter(([name]) => names.has(name)));
      for (const { name, key } of there) after.set(name, made.current.get(key)!);
      return after;
    });
    let line = keyed.filter(({ key }) => !made.current.has(key));
    setWaiting(line.length);
    setProblem(null);
    const next = (): void => {
      const [first] = nearestFirst(line, near.current);
      if (isOver || !first) return;
      channel().ask(
        "picture",
        first.order,
        (picture) => {
          made.current.set(first.key, picture);
          if (isOver) return;
          line = line.filter((one) => one !== first);
          show(first.name, picture);
          setWaiting(line.length);
          setProblem(null);
          next();
        },
        ({ message }) => {
          if (isOver) return;
          setProblem(message);
          timer = setTimeout(next, RETRY_AFTER);
        },
      );
    };
    next();
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [keyed, channel, show, near]);
  return { pictures, waiting, problem };
}
