// A zlib stream (RFC 1950) of DEFLATE's blocks (RFC 1951). It is made here and not by the library there is, since the
// bytes of a picture are mostly noise, in which that looks for strings for long and finds none.

import { adlerOf } from "./adler";
import { CODE_BITS, HUFFMAN_ROOM, makeCodes } from "./huffman";
import { findRepeats, HEADS, REPEATS_TABLE, SEQUENCE } from "./repeats";
import {
  distanceExtra,
  DISTANCES,
  distanceSymbol,
  END,
  FIRST_LENGTH,
  lengthExtra,
  lengthSymbol,
  LITERALS,
} from "./symbols";

/** Bytes of a block at most, as many as one may have that is stored as it is; and of a string at least. */
const MAX_BLOCK: usize = 65535;
const SHORTEST_STRING: usize = 4;

/** Symbols for lengths of codes, and the longest code of each alphabet. */
const CODE_LENGTHS = 19;
const MAX_LITERAL_BITS = 14; // four literals and seven bits that are left over go into 64
const MAX_DISTANCE_BITS = 15;
const MAX_LENGTH_BITS = 7;
/** Repeats in the list of code lengths: the last one 3 to 6 times, 0 3 to 10 and 11 to 138 times. */
const AGAIN: u8 = 16;
const FEW_ZEROS: u8 = 17;
const MANY_ZEROS: u8 = 18;

/** Kinds of block, by their two bits. */
const STORED = 0;
const DYNAMIC = 2;

// Where things lie in the room, bytes from its start.
const SEQUENCES: usize = REPEATS_TABLE;
const LITERAL_COUNTS: usize = SEQUENCES + (MAX_BLOCK / SHORTEST_STRING + 2) * SEQUENCE;
const DISTANCE_COUNTS: usize = LITERAL_COUNTS + 4 * 288;
const LENGTH_COUNTS: usize = DISTANCE_COUNTS + 4 * 32;
const LITERAL_CODES: usize = LENGTH_COUNTS + 4 * 32;
const DISTANCE_CODES: usize = LITERAL_CODES + 4 * 288;
const LENGTH_CODES: usize = DISTANCE_CODES + 4 * 32;
/** The list of code lengths: symbol and what follows it, a byte each. */
const LENGTHS: usize = LENGTH_CODES + 4 * 32;
const HUFFMAN: usize = LENGTHS + 2 * 320;
const ROOM: usize = HUFFMAN + HUFFMAN_ROOM;

/** Bytes that deflating takes beside what it reads and writes. */
export function deflateRoom(): i32 {
  return <i32>ROOM;
}

/** The order in which lengths of the code lengths' own codes are written. */
const ORDER = memory.data<u8>([16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15]);

/** What is written, and bits that are no whole byte yet. */
let out: usize = 0;
let bits: u64 = 0;
let held: u32 = 0;

/** At most 56 bits at a time. */
// @ts-ignore: decorator
@inline function put(value: u32, count: u32): void {
  bits |= (<u64>value) << held;
  held += count;
  store<u64>(out, bits);
  out += held >> 3;
  bits >>= held & 56;
  held &= 7;
}

function putBytes(value: u32, count: i32): void {
  if (held) put(0, 8 - held);
  for (let i = 0; i < count; i++) put((value >> (8 * i)) & 0xff, 8);
}

// @ts-ignore: decorator
@inline function at(table: usize, index: u32): usize {
  return table + ((<usize>index) << 2);
}

// @ts-ignore: decorator
@inline function tally(table: usize, index: u32): void {
  store<u32>(at(table, index), load<u32>(at(table, index)) + 1);
}

// @ts-ignore: decorator
@inline function bitsIn(entry: u32): u32 {
  return entry >> CODE_BITS;
}

// @ts-ignore: decorator
@inline function codeIn(entry: u32): u32 {
  return entry & ((1 << CODE_BITS) - 1);
}

/** How often each symbol occurs; gives how many bits stand behind symbols. */
function countSymbols(from: usize, sequences: usize, end: usize, room: usize): u32 {
  const literals = room + LITERAL_COUNTS;
  const distances = room + DISTANCE_COUNTS;
  memory.fill(literals, 0, LENGTH_COUNTS - LITERAL_COUNTS);
  let extra: u32 = 0;
  for (let sequence = sequences; sequence < end; sequence += SEQUENCE) {
    const past = from + load<u32>(sequence);
    for (; from < past; from++) tally(literals, load<u8>(from));
    const length = <u32>load<u16>(sequence, 4);
    if (!length) break;
    const distance = <u32>load<u16>(sequence, 6);
    tally(literals, lengthSymbol(length - 3));
    tally(distances, distanceSymbol(distance));
    extra += lengthExtra(length - 3) + distanceExtra(distance);
    from += length;
  }
  tally(literals, END);
  return extra;
}

/** Bits of all symbols by their codes. */
function bitsOf(counts: usize, codes: usize, symbols: u32): u32 {
  let sum: u32 = 0;
  for (let i: u32 = 0; i < symbols; i++) sum += load<u32>(at(counts, i)) * bitsIn(load<u32>(at(codes, i)));
  return sum;
}

/** Symbols up to the last one with a code, `least` at any rate. */
function lastUsed(codes: usize, symbols: u32, least: u32): u32 {
  while (symbols > least && !load<u32>(at(codes, symbols - 1))) symbols--;
  return symbols;
}

/** The lengths of both alphabets' codes in one list with its repeats told; gives where it ends. */
function listLengths(literals: u32, distances: u32, room: usize): usize {
  const total = literals + distances;
  let to = room + LENGTHS;
  let i: u32 = 0;
  while (i < total) {
    const length = lengthAt(i, literals, room);
    let run: u32 = 1;
    while (i + run < total && lengthAt(i + run, literals, room) == length) run++;
    i += run;
    if (length) {
      to = listed(to, <u8>length, 0);
      run--;
    }
    const longest: u32 = length ? 6 : 138;
    while (run >= 3) {
      const some = min(run, longest);
      const symbol: u8 = length ? AGAIN : some < 11 ? FEW_ZEROS : MANY_ZEROS;
      to = listed(to, symbol, <u8>(some - (symbol == MANY_ZEROS ? 11 : 3)));
      run -= some;
    }
    for (; run > 0; run--) to = listed(to, <u8>length, 0);
  }
  return to;
}

// @ts-ignore: decorator
@inline function lengthAt(i: u32, literals: u32, room: usize): u32 {
  const entry = i < literals ? at(room + LITERAL_CODES, i) : at(room + DISTANCE_CODES, i - literals);
  return bitsIn(load<u32>(entry));
}

// @ts-ignore: decorator
@inline function listed(to: usize, symbol: u8, extra: u8): usize {
  store<u8>(to, symbol);
  store<u8>(to, extra, 1);
  return to + 2;
}

// @ts-ignore: decorator
@inline function listExtra(symbol: u8): u32 {
  return symbol == AGAIN ? 2 : symbol == FEW_ZEROS ? 3 : symbol == MANY_ZEROS ? 7 : 0;
}

/** The symbols of a block, by its codes. */
function putSymbols(from: usize, sequences: usize, room: usize): void {
  const literals = room + LITERAL_CODES;
  const distances = room + DISTANCE_CODES;
  // Here, and not where all see them: they stay in registers.
  let to = out;
  let word = bits;
  let count = held;
  for (let sequence = sequences; ; sequence += SEQUENCE) {
    const past = from + load<u32>(sequence);
    for (; from + 4 <= past; from += 4) {
      const four = load<u32>(from);
      const first = load<u32>(at(literals, four & 0xff));
      const second = load<u32>(at(literals, (four >> 8) & 0xff));
      const third = load<u32>(at(literals, (four >> 16) & 0xff));
      const fourth = load<u32>(at(literals, four >> 24));
      word |= (<u64>codeIn(first)) << count;
      count += bitsIn(first);
      word |= (<u64>codeIn(second)) << count;
      count += bitsIn(second);
      word |= (<u64>codeIn(third)) << count;
      count += bitsIn(third);
      word |= (<u64>codeIn(fourth)) << count;
      count += bitsIn(fourth);
      store<u64>(to, word);
      to += count >> 3;
      word >>= count & 56;
      count &= 7;
    }
    for (; from < past; from++) {
      const entry = load<u32>(at(literals, load<u8>(from)));
      word |= (<u64>codeIn(entry)) << count;
      count += bitsIn(entry);
      store<u64>(to, word);
      to += count >> 3;
      word >>= count & 56;
      count &= 7;
    }
    const length = <u32>load<u16>(sequence, 4);
    if (!length) break;
    const own = length - 3;
    const entry = load<u32>(at(literals, lengthSymbol(own)));
    const ownExtra = lengthExtra(own);
    word |= (<u64>codeIn(entry)) << count;
    count += bitsIn(entry);
    word |= (<u64>(own & ((1 << ownExtra) - 1))) << count;
    count += ownExtra;
    const distance = <u32>load<u16>(sequence, 6);
    const far = load<u32>(at(distances, distanceSymbol(distance)));
    const farExtra = distanceExtra(distance);
    word |= (<u64>codeIn(far)) << count;
    count += bitsIn(far);
    word |= (<u64>(distance & ((1 << farExtra) - 1))) << count;
    count += farExtra;
    store<u64>(to, word);
    to += count >> 3;
    word >>= count & 56;
    count &= 7;
    from += length;
  }
  out = to;
  bits = word;
  held = count;
  const end = load<u32>(at(literals, END));
  put(codeIn(end), bitsIn(end));
}

/** A block as it is, where codes would make it no shorter. */
function putStored(from: usize, count: u32): void {
  putBytes(count | (~count << 16), 4);
  memory.copy(out, from, count);
  out += count;
}

function putBlock(from: usize, count: u32, isLast: bool, room: usize): void {
  const end = findRepeats(from, from + count, room, room + SEQUENCES);
  const extra = countSymbols(from, room + SEQUENCES, end, room);
  makeCodes(room + LITERAL_COUNTS, LITERALS, MAX_LITERAL_BITS, room + LITERAL_CODES, room + HUFFMAN);
  makeCodes(room + DISTANCE_COUNTS, DISTANCES, MAX_DISTANCE_BITS, room + DISTANCE_CODES, room + HUFFMAN);
  const literals = lastUsed(room + LITERAL_CODES, LITERALS, FIRST_LENGTH);
  const distances = lastUsed(room + DISTANCE_CODES, DISTANCES, 1);
  const list = room + LENGTHS;
  const listEnd = listLengths(literals, distances, room);
  memory.fill(room + LENGTH_COUNTS, 0, 4 * 32);
  let size = 14 + extra;
  for (let entry = list; entry < listEnd; entry += 2) {
    tally(room + LENGTH_COUNTS, load<u8>(entry));
    size += listExtra(load<u8>(entry));
  }
  makeCodes(room + LENGTH_COUNTS, CODE_LENGTHS, MAX_LENGTH_BITS, room + LENGTH_CODES, room + HUFFMAN);
  let ordered: u32 = CODE_LENGTHS;
  while (ordered > 4 && !load<u32>(at(room + LENGTH_CODES, load<u8>(ORDER + ordered - 1)))) ordered--;
  size += 3 * ordered + bitsOf(room + LENGTH_COUNTS, room + LENGTH_CODES, CODE_LENGTHS);
  size += bitsOf(room + LITERAL_COUNTS, room + LITERAL_CODES, LITERALS);
  size += bitsOf(room + DISTANCE_COUNTS, room + DISTANCE_CODES, DISTANCES);
  if (size >= 8 * (count + 4)) {
    put(isLast | (STORED << 1), 3);
    putStored(from, count);
    return;
  }
  put(isLast | (DYNAMIC << 1), 3);
  put((literals - FIRST_LENGTH) | ((distances - 1) << 5) | ((ordered - 4) << 10), 14);
  for (let i: u32 = 0; i < ordered; i++) put(bitsIn(load<u32>(at(room + LENGTH_CODES, load<u8>(ORDER + i)))), 3);
  for (let entry = list; entry < listEnd; entry += 2) {
    const symbol = load<u8>(entry);
    const code = load<u32>(at(room + LENGTH_CODES, symbol));
    put(codeIn(code), bitsIn(code));
    put(load<u8>(entry, 1), listExtra(symbol));
  }
  putSymbols(from, room + SEQUENCES, room);
}

/**
 * Writes `count` bytes as a zlib stream; gives its length. `block`: bytes that have codes of their own, up to 65535: what
 * is unlike should lie in different ones. `to` has room for the bytes, 5 more for each block, and 16. `room`:
 * as many bytes as deflateRoom says.
 */
export function deflate(from: usize, count: i32, block: i32, to: usize, room: usize): i32 {
  memory.fill(room, 0, HEADS);
  out = to;
  bits = 0;
  held = 0;
  // Windows of 32 KiB, and (a hint only) a fast way of finding strings.
  putBytes(0x5e78, 2);
  for (let at = 0; at < count || !at; at += block) {
    const some = min(block, count - at);
    putBlock(from + at, some, at + some >= count, room);
  }
  putBytes(bswap(adlerOf(from, count)), 4);
  return <i32>(out - to);
}
