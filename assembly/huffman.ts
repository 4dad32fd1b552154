// Prefix codes of DEFLATE (RFC 1951, 3.2.2): code lengths by Huffman's method, as A. Moffat and J. Katajainen have it
// ("In-place calculation of minimum-redundancy codes", 1995), no longer than the format allows, and codes from them.

/** Bits of a symbol's number in a sorted entry, below how often it occurs. */
const SYMBOL_BITS: u32 = 9;
const SYMBOL: u32 = (1 << SYMBOL_BITS) - 1;
const MAX_LENGTH = 15;
/** Symbols of an alphabet at most. */
const MAX_SYMBOLS: usize = 288;
/** Where the table of how many codes have which length lies behind the sorted entries and their weights. */
const TALLY: usize = 8 * MAX_SYMBOLS;
/** Bytes that making a code takes. */
export const HUFFMAN_ROOM: usize = TALLY + 4 * (MAX_LENGTH + 2);

/** A code as it is kept: its bits, first bit lowest, and above them how many they are. */
export const CODE_BITS: u32 = 24;

// @ts-ignore: decorator
@inline function word(at: usize, index: i32): u32 {
  return load<u32>(at + ((<usize>index) << 2));
}

// @ts-ignore: decorator
@inline function setWord(at: usize, index: i32, value: u32): void {
  store<u32>(at + ((<usize>index) << 2), value);
}

/** The symbols that occur, the rarest first, as entries of count and symbol; how many they are. */
function sortedByCount(counts: usize, symbols: i32, sorted: usize): i32 {
  let used = 0;
  for (let symbol = 0; symbol < symbols; symbol++) {
    const count = word(counts, symbol);
    if (!count) continue;
    const entry = (count << SYMBOL_BITS) | symbol;
    let at = used++;
    while (at > 0 && word(sorted, at - 1) > entry) {
      setWord(sorted, at, word(sorted, at - 1));
      at--;
    }
    setWord(sorted, at, entry);
  }
  return used;
}

/** Weights in rising order, at least two, become how deep each leaf of the tree lies. */
function depthsOf(weights: usize, count: i32): void {
  setWord(weights, 0, word(weights, 0) + word(weights, 1));
  let root = 0;
  let leaf = 2;
  for (let next = 1; next < count - 1; next++) {
    let sum: u32 = 0;
    for (let child = 0; child < 2; child++) {
      const isRoot = leaf >= count || (root < next && word(weights, root) < word(weights, leaf));
      if (isRoot) {
        sum += word(weights, root);
        setWord(weights, root++, next);
      } else sum += word(weights, leaf++);
    }
    setWord(weights, next, sum);
  }
  setWord(weights, count - 2, 0);
  for (let next = count - 3; next >= 0; next--) setWord(weights, next, word(weights, word(weights, next)) + 1);
  let free = 1;
  let depth = 0;
  root = count - 2;
  let next = count - 1;
  while (free > 0) {
    let used = 0;
    while (root >= 0 && word(weights, root) == depth) {
      used++;
      root--;
    }
    while (free > used) {
      setWord(weights, next--, depth);
      free--;
    }
    free = 2 * used;
    depth++;
  }
}

/** Shortens what is longer than `most`, and lengthens others as little as that needs (Kraft's sum is 1 again). */
function limit(tally: usize, most: i32): void {
  let sum = 0;
  for (let length = 1; length <= most; length++) sum += word(tally, length) << (most - length);
  for (; sum > 1 << most; sum--) {
    setWord(tally, most, word(tally, most) - 1);
    let length = most - 1;
    while (!word(tally, length)) length--;
    setWord(tally, length, word(tally, length) - 1);
    setWord(tally, length + 1, word(tally, length + 1) + 2);
  }
}

// @ts-ignore: decorator
@inline function reversed(code: u32, length: u32): u32 {
  let out: u32 = 0;
  for (let i: u32 = 0; i < length; i++) out |= ((code >> i) & 1) << (length - 1 - i);
  return out;
}

/**
 * Codes for `symbols` that occur so often (`counts`, words, each below 2^22), none longer than `most` bits, as words:
 * bits and how many (CODE_BITS); 0 for what does not occur. A single symbol has one bit. `room`: HUFFMAN_ROOM bytes.
 */
export function makeCodes(counts: usize, symbols: i32, most: i32, codes: usize, room: usize): void {
  const weights = room + 4 * MAX_SYMBOLS;
  const tally = room + TALLY;
  const used = sortedByCount(counts, symbols, room);
  memory.fill(codes, 0, (<usize>symbols) << 2);
  memory.fill(tally, 0, 4 * (MAX_LENGTH + 2));
  if (used < 2) {
    if (used) setWord(codes, word(room, 0) & SYMBOL, 1 << CODE_BITS);
    return;
  }
  for (let i = 0; i < used; i++) setWord(weights, i, word(room, i) >> SYMBOL_BITS);
  depthsOf(weights, used);
  for (let i = 0; i < used; i++) {
    const length = min(<i32>word(weights, i), most);
    setWord(tally, length, word(tally, length) + 1);
  }
  limit(tally, most);
  let length = most;
  let left = word(tally, length);
  for (let i = 0; i < used; i++) {
    while (!left) left = word(tally, --length);
    left--;
    setWord(codes, word(room, i) & SYMBOL, (<u32>length) << CODE_BITS);
  }
  // The first code of each length, then one after another by symbol.
  let code: u32 = 0;
  for (let bits = 1; bits <= most; bits++) {
    const count = word(tally, bits);
    setWord(weights, bits, code);
    code = (code + count) << 1;
  }
  for (let symbol = 0; symbol < symbols; symbol++) {
    const bits = word(codes, symbol) >> CODE_BITS;
    if (!bits) continue;
    const own = word(weights, bits);
    setWord(weights, bits, own + 1);
    setWord(codes, symbol, (bits << CODE_BITS) | reversed(own, bits));
  }
}
