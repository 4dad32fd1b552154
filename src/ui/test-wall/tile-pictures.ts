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

/** What a picture is of, however large and wherever it is looked at. */
const contentOf = ({ divide: _, rows: __, ...content }: PictureOrder): string => JSON.stringify(content);

/** A tile as it is shown: what its picture is of, all and in content. */
interface ShownTile {
  key: string;
  content: string;
  picture: Picture;
}

export interface TilePictures {
  /** By the tiles' names: what is wanted or, until it is there, what was shown of the same look. */
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
  const [shown, setShown] = useState<ReadonlyMap<string, ShownTile>>(new Map());
  const [problem, setProblem] = useState<string | null>(null);
  const keyed = useMemo(
    () => wanted.map((tile) => ({ ...tile, key: JSON.stringify(tile.order), content: contentOf(tile.order) })),
    [wanted],
  );
  const show = useCallback(
    (name: string, tile: ShownTile) => setShown((before) => new Map(before).set(name, tile)),
    [],
  );
  useEffect(() => {
    let isOver = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const there = keyed.filter(({ key }) => made.current.has(key));
    setShown((before) => {
      const names = new Set(keyed.map(({ name }) => name));
      const after = new Map([...before].filter(([name]) => names.has(name)));
      for (const { name, key, content } of there) after.set(name, { key, content, picture: made.current.get(key)! });
      return after;
    });
    let line = keyed.filter(({ key }) => !made.current.has(key));
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
          show(first.name, { key: first.key, content: first.content, picture });
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
  // Smaller or of other rows it may be until the wanted one is there; never of another look.
  const pictures = useMemo(
    () =>
      new Map(
        keyed.flatMap(({ name, content }): [string, Picture][] => {
          const tile = shown.get(name);
          return tile?.content === content ? [[name, tile.picture]] : [];
        }),
      ),
    [keyed, shown],
  );
  // Told of what is wanted now, before anything was begun.
  const waiting = keyed.filter(({ name, key }) => shown.get(name)?.key !== key).length;
  return { pictures, waiting, problem };
}
