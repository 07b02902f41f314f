import type { Condition } from "./conditions/index.js";

/** A tree of conditions; `all` of nothing keeps everything, `any` of nothing keeps nothing. */
export type Filter =
  | { readonly kind: "all"; readonly of: readonly Filter[] }
  | { readonly kind: "any"; readonly of: readonly Filter[] }
  | { readonly kind: "not"; readonly of: Filter }
  | Condition;

/** The filter that keeps every record. */
export const EVERYTHING: Filter = { kind: "all", of: [] };

/** The filter that keeps none. */
export const NOTHING: Filter = { kind: "any", of: [] };

/** Whether a filter is {@link EVERYTHING}, however it came to be. */
export function isEverything(filter: Filter): boolean {
  return filter.kind === "all" && filter.of.length === 0;
}

/** Whether a filter is {@link NOTHING}, however it came to be. */
export function isNothing(filter: Filter): boolean {
  return filter.kind === "any" && filter.of.length === 0;
}
