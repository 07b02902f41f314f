import type { Recurring } from "../../windows/index.js";
import {
  INTERSECTING,
  RELATIONS,
  type DateComparison,
  type OrderComparison,
  type Relation,
} from "../../filters/index.js";
import type { Temporal } from "./expression.js";

/** A comparison with its sides exchanged. */
export const MIRRORED: Readonly<Record<string, OrderComparison>> = {
  "=": "=",
  "<>": "<>",
  "<": ">",
  "<=": ">=",
  ">": "<",
  ">=": "<=",
};
export const DATE_COMPARISON: Readonly<Record<OrderComparison, DateComparison>> = {
  "=": "on",
  "<>": "notOn",
  "<": "before",
  "<=": "to",
  ">": "after",
  ">=": "from",
};

/** The relations that each temporal function stands for between a record's interval and a window. */
export const TEMPORAL_RELATIONS: Readonly<Record<Temporal, readonly Relation[]>> = {
  t_after: ["after"],
  t_before: ["before"],
  t_contains: ["contains"],
  t_disjoint: RELATIONS.filter((each) => !INTERSECTING.includes(each)),
  t_during: ["during"],
  t_equals: ["equals"],
  t_finishedby: ["finishedBy"],
  t_finishes: ["finishes"],
  t_intersects: INTERSECTING,
  t_meets: ["meets"],
  t_metby: ["metBy"],
  t_overlappedby: ["overlappedBy"],
  t_overlaps: ["overlaps"],
  t_startedby: ["startedBy"],
  t_starts: ["starts"],
};

/** The same relation seen from the other side. */
export const MIRROR: Readonly<Record<Relation, Relation>> = {
  before: "after",
  meets: "metBy",
  overlaps: "overlappedBy",
  finishedBy: "finishes",
  contains: "during",
  starts: "startedBy",
  equals: "equals",
  startedBy: "starts",
  during: "contains",
  finishes: "finishedBy",
  overlappedBy: "overlaps",
  metBy: "meets",
  after: "before",
};

/** What the temporal functions come to for a column of single dates. */
export const TEMPORAL_COMPARISON: Partial<Record<Temporal, DateComparison>> = {
  t_after: "after",
  t_before: "before",
  t_disjoint: "notOn",
  t_during: "on",
  t_equals: "on",
  t_intersects: "on",
};

export const TEMPORAL_ORDER: Partial<Record<Temporal, OrderComparison>> = {
  t_after: ">",
  t_before: "<",
  t_disjoint: "<>",
  t_equals: "=",
  t_intersects: "=",
};

/** The parts of a date by number, as the recurring parts that they are. */
export const DATE_PARTS: Readonly<
  Record<string, readonly [Recurring["name"], least: number, most: number]>
> = {
  month: ["BYMONTH", 1, 12],
  day: ["BYMONTHDAY", 1, 31],
  weekday: ["BYDAY", 1, 7],
  hour: ["BYHOUR", 0, 23],
};
