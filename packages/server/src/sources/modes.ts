/** How a file is taken: instead of the records, besides them, or over those of the same keys. */
export const LOAD_MODES = ["replace", "append", "update"] as const;
export type LoadMode = (typeof LOAD_MODES)[number];
