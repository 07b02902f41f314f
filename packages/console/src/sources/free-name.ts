import { nameFromFile } from "@orisma/core/internal";

/** A name for a source that is not taken, from that of a file or a table. */
export function freeName(of: string, taken: readonly string[]): string {
  const name = nameFromFile(of);
  const lower = new Set(taken.map((each) => each.toLowerCase()));
  for (let count = 1; ; count++) {
    const found = count === 1 ? name : `${name}-${count}`;
    if (!lower.has(found.toLowerCase())) return found;
  }
}
