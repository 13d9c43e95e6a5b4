/**
 * MurmurHash3 (x86, 32 bit) of a text's UTF-8 bytes, as an unsigned integer. Public domain algorithm
 * by Austin Appleby; well spread, so that shares of it follow the weights, and not for secrets.
 */
export function murmur3(text: string, seed = 0): number {
  const bytes = utf8(text)
  const blocks = bytes.length - (bytes.length % 4)
  let hash = seed
  for (let at = 0; at < blocks; at += 4) {
    hash ^= scramble(word(bytes, at, 4))
    hash = (Math.imul(rotate(hash, 13), 5) + 0xe6_54_6b_64) | 0
  }
  if (blocks < bytes.length) hash ^= scramble(word(bytes, blocks, bytes.length - blocks))
  hash ^= bytes.length
  hash = Math.imul(hash ^ (hash >>> 16), 0x85_eb_ca_6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2_b2_ae_35)
  return (hash ^ (hash >>> 16)) >>> 0
}

/** A number from 0 up to, not including, 1 that depends on nothing but the text. */
export function unitHash(text: string): number {
  return murmur3(text) / 2 ** 32
}

const rotate = (value: number, by: number): number => (value << by) | (value >>> (32 - by))

function scramble(block: number): number {
  return Math.imul(rotate(Math.imul(block, 0xcc_9e_2d_51), 15), 0x1b_87_35_93)
}

/** Up to four bytes as a little-endian integer. */
function word(bytes: readonly number[], from: number, count: number): number {
  let value = 0
  for (let index = 0; index < count; index += 1) value |= (bytes[from + index] ?? 0) << (8 * index)
  return value
}

function utf8(text: string): number[] {
  return Array.from(text).flatMap((character) => {
    const point = character.codePointAt(0) ?? 0
    if (point < 0x80) return [point]
    if (point < 0x8_00) return [0xc0 | (point >> 6), low(point)]
    if (point < 0x1_00_00) return [0xe0 | (point >> 12), low(point >> 6), low(point)]
    return [0xf0 | (point >> 18), low(point >> 12), low(point >> 6), low(point)]
  })
}

const low = (bits: number): number => 0x80 | (bits & 0x3f)
