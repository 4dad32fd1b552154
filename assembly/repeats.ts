// Strings of bytes that were there before (RFC 1951, 4). They are found by a hash of four bytes, from the last place that
// has it to those before; where nothing was found for long, as in noise, fewer and fewer places are looked at.

/** Bits of the hash. */
const HASH_BITS: u32 = 15;
/** How far back a string may lie, bytes. */
const WINDOW: usize = 32768;
// Tables of places, words: the last one of each hash, and the one before each place of the window.
export const HEADS: usize = (<usize>4) << HASH_BITS;
export const REPEATS_TABLE: usize = HEADS + 4 * WINDOW;
/** Knuth's multiplicative hashing. */
const GOLDEN: u32 = 2654435761;

const SHORTEST: i32 = 4;
const LONGEST: i32 = 258;
/** From so long on no better one is looked for at the next byte. */
const LONG_ENOUGH: i32 = 8;
/** Places that are looked at for one string. */
const DEPTH: i32 = 8;
/** After so many bytes (2^n) without a string every second place is looked at, after twice as many every third. */
const PATIENCE: u32 = 8;
/** Bytes that are read at once and may lie beyond a block's end. */
const AT_ONCE: usize = 8;

/** What is found: bytes as they stand before it (a word), its length, its distance less 1 (half words). */
export const SEQUENCE: usize = 8;

// @ts-ignore: decorator
@inline function headOf(bytes: u32, table: usize): usize {
  return table + ((<usize>((bytes * GOLDEN) >> (32 - HASH_BITS))) << 2);
}

// @ts-ignore: decorator
@inline function beforeOf(at: usize, table: usize): usize {
  return table + HEADS + ((at & (WINDOW - 1)) << 2);
}

/** How many bytes at two places are alike, up to `most`. */
// @ts-ignore: decorator
@inline function alike(one: usize, other: usize, most: i32): i32 {
  let length = 0;
  while (length < most) {
    const differing = load<u64>(one + length) ^ load<u64>(other + length);
    if (differing) return min(most, length + ((<i32>ctz(differing)) >> 3));
    length += 8;
  }
  return most;
}

/** Where the string that `longest` found lies. */
let foundAt: usize = 0;

/** Enters a place; gives the last one before it of the same hash, or 0. */
// @ts-ignore: decorator
@inline function remember(at: usize, bytes: u32, table: usize): usize {
  const head = headOf(bytes, table);
  const newest = <usize>load<u32>(head);
  store<u32>(head, <u32>at);
  store<u32>(beforeOf(at, table), <u32>newest);
  return newest;
}

/** The longest string that lies before a place and is longer than `atLeast`, or that where there is none. */
// @ts-ignore: decorator
@inline function longest(at: usize, most: i32, table: usize, atLeast: i32): i32 {
  const bytes = load<u32>(at);
  let place = remember(at, bytes, table);
  let best = atLeast;
  // The string has to be longer than the best: its last four bytes are looked at first.
  let tail = load<u32>(at + best - 3);
  for (let depth = DEPTH; place && at - place <= WINDOW && depth; depth--) {
    if (load<u32>(place + best - 3) == tail) {
      const length = alike(place, at, most);
      if (length > best) {
        best = length;
        foundAt = place;
        if (length == most) break;
        tail = load<u32>(at + best - 3);
      }
    }
    place = <usize>load<u32>(beforeOf(place, table));
  }
  return best;
}

/**
 * Writes the sequences that bytes from `from` to `end` are made of; the last one has no string. Gives where they end.
 * Strings reach back into what lies before `from`. `table`: REPEATS_TABLE bytes, of which HEADS are 0 at first.
 */
export function findRepeats(from: usize, end: usize, table: usize, sequences: usize): usize {
  let at = from;
  let anchor = from;
  let to = sequences;
  const last = end - from > AT_ONCE ? end - AT_ONCE : from;
  while (at < last) {
    let length = longest(at, min(LONGEST, <i32>(end - at)), table, SHORTEST - 1);
    if (length < SHORTEST) {
      at += 1 + ((at - anchor) >> PATIENCE);
      continue;
    }
    let place = foundAt;
    while (length < LONG_ENOUGH && at + 1 < last) {
      const next = at + 1;
      const longer = longest(next, min(LONGEST, <i32>(end - next)), table, length);
      if (longer == length) break;
      at = next;
      length = longer;
      place = foundAt;
    }
    store<u32>(to, <u32>(at - anchor));
    store<u16>(to, length, 4);
    store<u16>(to, <u16>(at - place - 1), 6);
    to += SEQUENCE;
    anchor = at + length;
    const past = min(anchor, last);
    for (let inside = at + 2; inside < past; inside++) remember(inside, load<u32>(inside), table);
    at = anchor;
  }
  store<u32>(to, <u32>(end - anchor));
  store<u32>(to, 0, 4);
  return to + SEQUENCE;
}
