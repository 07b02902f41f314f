/**
 * The thirteen ways in which a record's interval can lie to a window, each of which excludes the
 * others: by name as OGC CQL2 has them for temporal functions.
 */
export const RELATIONS = [
  "before",
  "meets",
  "overlaps",
  "finishedBy",
  "contains",
  "starts",
  "equals",
  "startedBy",
  "during",
  "finishes",
  "overlappedBy",
  "metBy",
  "after",
] as const;
export type Relation = (typeof RELATIONS)[number];

/** The ways in which two intervals have a moment in common. */
export const INTERSECTING: readonly Relation[] = RELATIONS.filter(
  (each) => !["before", "meets", "metBy", "after"].includes(each),
);

/** How the ends of a record's interval lie to those of a window: less, equal, more. */
export interface EndsCompared {
  readonly startToStart: number;
  readonly startToEnd: number;
  readonly endToStart: number;
  readonly endToEnd: number;
}

/** How each relation has the ends; `null` where it follows from the others. */
export const ENDS_OF: Readonly<
  Record<Relation, { readonly [End in keyof EndsCompared]?: -1 | 0 | 1 }>
> = {
  before: { endToStart: -1 },
  meets: { endToStart: 0 },
  overlaps: { startToStart: -1, endToStart: 1, endToEnd: -1 },
  finishedBy: { startToStart: -1, endToEnd: 0 },
  contains: { startToStart: -1, endToEnd: 1 },
  starts: { startToStart: 0, endToEnd: -1 },
  equals: { startToStart: 0, endToEnd: 0 },
  startedBy: { startToStart: 0, endToEnd: 1 },
  during: { startToStart: 1, endToEnd: -1 },
  finishes: { startToStart: 1, endToEnd: 0 },
  overlappedBy: { startToStart: 1, startToEnd: -1, endToEnd: 1 },
  metBy: { startToEnd: 0 },
  after: { startToEnd: 1 },
};

/** Whether the ends lie as a relation has them. */
export function isRelated(ends: EndsCompared, relation: Relation): boolean {
  const wanted = ENDS_OF[relation];
  return (Object.keys(wanted) as (keyof EndsCompared)[]).every(
    (end) => Math.sign(ends[end]) === wanted[end],
  );
}
