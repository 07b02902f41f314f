/**
 * An expression of CQL2 as its JSON form has it, but for numbers, which are kept as they were
 * written so that none is rounded.
 *
 * @see OGC 21-065r2, Common Query Language (CQL2), clause 7 and annex B
 */
export type Expression =
  | { readonly text: string }
  | { readonly decimal: string }
  | { readonly boolean: boolean }
  | { readonly property: string }
  | { readonly date: string }
  | { readonly timestamp: string }
  | { readonly interval: readonly [Expression, Expression] }
  | { readonly list: readonly Expression[] }
  | Operation;

/** An operator or function with what it is applied to. */
export interface Operation {
  readonly op: string;
  readonly args: readonly Expression[];
}

/** Where each expression stands: counted from 1 in a text, a path in a document. */
export interface Places {
  at(expression: Expression): { readonly at: number; readonly path?: string };
}

/** The temporal functions, in lower case as the JSON form has them. */
export const TEMPORAL = [
  "t_after",
  "t_before",
  "t_contains",
  "t_disjoint",
  "t_during",
  "t_equals",
  "t_finishedby",
  "t_finishes",
  "t_intersects",
  "t_meets",
  "t_metby",
  "t_overlappedby",
  "t_overlaps",
  "t_startedby",
  "t_starts",
] as const;
export type Temporal = (typeof TEMPORAL)[number];

/** Functions of columns that are compared with values. */
export const COMPARED_FUNCTIONS = [
  "year",
  "month",
  "day",
  "weekday",
  "hour",
  "daysBetween",
] as const;

/** Functions of our own, beside those of the standard. */
export const OWN_FUNCTIONS = [
  "inWindow",
  "dated",
  "unreadable",
  ...COMPARED_FUNCTIONS,
  "decimal",
  "openStart",
  "closedEnd",
] as const;
export type OwnFunction = (typeof OWN_FUNCTIONS)[number];

/** The function that stands for the name of the caller, which only the service knows. */
export const CALLER = "caller";

export const COMPARISONS = ["=", "<>", "<", "<=", ">", ">="] as const;

/** Characters of a text at most. */
export const LONGEST_CQL2 = 20_000;
/** Levels of an expression at most. */
export const DEEPEST_CQL2 = 50;
