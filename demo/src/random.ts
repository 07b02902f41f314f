/** Numbers that look random and are the same at each call with the same seed and place. */
export interface Dice {
  /** A number in [0, 1). */
  next(): number;
  /** A whole number from 0 to below `sides`. */
  below(sides: number): number;
  /** One of a list. */
  pick<T>(from: readonly [T, ...(readonly T[])]): T;
}

/** Dice for one place (a day, an order) under a seed: what other places drew plays no part. */
export function diceFor(seed: number, ...place: readonly number[]): Dice {
  let state = place.reduce((mixed, part) => scramble(mixed ^ scramble(part)), scramble(seed));
  const next = () => {
    state = (state + 0x6d2b79f5) | 0;
    return scramble(state) / 2 ** 32;
  };
  const below = (sides: number) => Math.floor(next() * sides);
  return { next, below, pick: (from) => from[below(from.length)] ?? from[0] };
}

/** A bijection of 32-bit numbers that spreads every bit over all. */
function scramble(value: number): number {
  let mixed = value | 0;
  mixed = Math.imul(mixed ^ (mixed >>> 16), 0x21f0aaad);
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x735a2d97);
  return (mixed ^ (mixed >>> 15)) >>> 0;
}
