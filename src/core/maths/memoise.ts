/**
 * Keeps what is dear to make and asked for again with every frame: by an object it belongs to, and by a key of all else
 * it depends on. The oldest is forgotten when more than `kept` belong to one object.
 */
export function memoised<T>(kept: number): (owner: object, key: string, make: () => T) => T {
  const owners = new WeakMap<object, Map<string, T>>();
  return (owner, key, make) => {
    let known = owners.get(owner);
    if (!known) owners.set(owner, (known = new Map()));
    let value = known.get(key);
    if (value === undefined) {
      value = make();
      if (known.size >= kept) known.delete(known.keys().next().value!);
      known.set(key, value);
    }
    return value;
  };
}

/** What belongs to no object in particular. */
export const NOTHING = {};
