import { LRUCache } from "lru-cache";

/**
 * Caches what is costly to make and asked for again with every frame: by an object it belongs to, and by a key of all
 * else it depends on. At most `max` entries an object; the least recently used goes first.
 */
export function memoised<T extends NonNullable<unknown>>(
  max: number,
): (owner: object, key: string, make: () => T) => T {
  const owners = new WeakMap<object, LRUCache<string, T>>();
  return (owner, key, make) => {
    let cache = owners.get(owner);
    if (!cache) owners.set(owner, (cache = new LRUCache({ max })));
    let value = cache.get(key);
    if (value === undefined) cache.set(key, (value = make()));
    return value;
  };
}

/** What belongs to no object in particular. */
export const NOTHING = {};
