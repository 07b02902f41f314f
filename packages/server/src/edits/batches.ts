/** Records of one statement. */
const BATCH = 500;

/** In batches of few different sizes, since each makes a statement of its own. */
export function batches<T>(all: readonly T[]): readonly (readonly T[])[] {
  const found: T[][] = [];
  for (let start = 0; start < all.length; start += BATCH) {
    found.push(all.slice(start, start + BATCH));
  }
  return found;
}
