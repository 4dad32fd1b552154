/** Names that lead into plain data, one after another. What a list holds is named by its id, or else by its number. */
type Names = readonly string[];

const isNumber = (name: string) => /^\d+$/.test(name);
const hasId = (item: unknown, id: string) => (item as { id?: unknown } | null)?.id === id;
const indexOf = (list: unknown[], name: string) =>
  isNumber(name) ? Number(name) : list.findIndex((item) => hasId(item, name));

/** What names lead to; undefined where they lead nowhere. */
export function valueOf(target: unknown, names: Names): unknown {
  return names.reduce<unknown>((at, name) => {
    if (Array.isArray(at)) return at[indexOf(at, name)];
    const isThere = typeof at === "object" && at !== null && Object.hasOwn(at, name);
    return isThere ? (at as Record<string, unknown>)[name] : undefined;
  }, target);
}

/**
 * Plain data with what names lead to set anew; other parts are shared, and undefined takes a name away. Throws
 * RangeError where they lead nowhere.
 */
export function withValueOf<T>(target: T, names: Names, set: (before: unknown) => unknown): T {
  if (!names.length) return set(target) as T;
  const [name, ...rest] = names as [string, ...string[]];
  if (Array.isArray(target)) {
    const index = indexOf(target, name);
    if (!(index in target)) throw new RangeError(`“${name}” leads nowhere`);
    return target.map((item, i) => (i === index ? withValueOf(item, rest, set) : item)) as T;
  }
  if (typeof target !== "object" || target === null || (rest.length > 0 && !Object.hasOwn(target, name)))
    throw new RangeError(`“${name}” leads nowhere`);
  const changed = withValueOf((target as Record<string, unknown>)[name], rest, set);
  if (changed !== undefined) return { ...target, [name]: changed };
  const { [name]: _, ...others } = target as Record<string, unknown>;
  return others as T;
}
