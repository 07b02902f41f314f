/** A number of records, in words. */
export function countedRecords(records: number): string {
  return counted(records, "record", "records");
}

/** A number of things, in words. */
export function counted(count: number, one: string, many: string): string {
  return `${count.toLocaleString("en-GB")} ${count === 1 ? one : many}`;
}

/** A number of bytes, in words. */
export function sizeText(bytes: number): string {
  if (bytes < 1_000) return `${bytes} bytes`;
  return bytes < 1e6 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
