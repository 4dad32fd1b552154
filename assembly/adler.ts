// The checksum of a zlib stream (RFC 1950, 8.2), sixteen bytes at a time.

/** Bytes between which a checksum is brought back below its modulus, so that it stays within 32 bits (RFC 1950, 9). */
const SUMMED: usize = 5552;
const MODULUS: u32 = 65521;

/** The sum of bytes and 1, and above it the sum of those sums. */
export function adlerOf(from: usize, count: usize): u32 {
  let sum: u32 = 1;
  let sums: u32 = 0;
  const high = i16x8(16, 15, 14, 13, 12, 11, 10, 9);
  const low = i16x8(8, 7, 6, 5, 4, 3, 2, 1);
  for (let left = count; left > 0;) {
    const some = min(left, SUMMED);
    left -= some;
    const past = from + some;
    for (; from + 16 <= past; from += 16) {
      const bytes = v128.load(from);
      const weighed = i32x4.add(
        i32x4.dot_i16x8_s(i16x8.extend_low_i8x16_u(bytes), high),
        i32x4.dot_i16x8_s(i16x8.extend_high_i8x16_u(bytes), low),
      );
      const plain = i32x4.extadd_pairwise_i16x8_u(i16x8.extadd_pairwise_i8x16_u(bytes));
      sums += 16 * sum + total(weighed);
      sum += total(plain);
    }
    for (; from < past; from++) {
      sum += load<u8>(from);
      sums += sum;
    }
    sum %= MODULUS;
    sums %= MODULUS;
  }
  return (sums << 16) | sum;
}

// @ts-ignore: decorator
@inline function total(lanes: v128): u32 {
  return (
    i32x4.extract_lane(lanes, 0) +
    i32x4.extract_lane(lanes, 1) +
    i32x4.extract_lane(lanes, 2) +
    i32x4.extract_lane(lanes, 3)
  );
}
