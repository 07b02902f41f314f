import { MS_PER_DAY, type Interval } from "../../calendar/index.js";
import type { Cell } from "../../reading/index.js";
import { intervalsInWords } from "../../windows/index.js";
import type { Catalogue } from "../columns.js";
import { INTERSECTING, RELATIONS, isRelated, type Relation } from "../relations.js";
import {
  cellOf,
  kindOf,
  type ConditionKind,
  type FilledCell,
  type Row,
  type Side,
} from "./common.js";
import { edgeValue } from "./date.js";
import { edgeFaults, pairFaults } from "./faults.js";

/**
 * A condition on the interval between two date columns of one kind, in its relation to intervals of
 * a window.
 *
 * An end on a column of days is the end of that day. A blank end is open where `openEnd` says so,
 * and a blank start likewise; else the record is omitted. An interval that does not end after it
 * begins satisfies nothing, and to a window without length nothing is related.
 */
export interface OverlapCondition {
  readonly kind: "overlap";
  readonly start: string;
  readonly end: string;
  readonly side: Side;
  /** Any of them will do. */
  readonly relations: readonly Relation[];
  readonly intervals: readonly Interval[];
  readonly openStart: boolean;
  readonly openEnd: boolean;
}

export const OVERLAP: ConditionKind<OverlapCondition> = {
  columns: ({ start, end }) => [start, end],
  faults: ({ start, end, intervals }, catalogue) => [
    ...pairFaults(start, end, catalogue),
    ...edgeFaults(start, intervals, catalogue),
  ],
  holds: overlapHolds,
  words: overlapInWords,
};

function overlapHolds(condition: OverlapCondition, row: Row, catalogue: Catalogue): boolean {
  const { relations, intervals, openStart, openEnd, side } = condition;
  const kind = kindOf(condition.start, catalogue);
  const from = endMs(cellOf(row, condition.start), openStart, -Infinity);
  const last = endMs(cellOf(row, condition.end), openEnd, Infinity);
  // A day ends when the next begins.
  const to = last === null || kind !== "date" ? last : last + MS_PER_DAY;
  if (from === null || to === null || to <= from) return false;
  const isRelatedToAny = intervals.some((interval) => {
    const start = interval.start === null ? -Infinity : edgeValue(interval.start, kind);
    const end = interval.end === null ? Infinity : edgeValue(interval.end, kind);
    // A window without length has no relation to anything.
    if (start >= end) return false;
    const ends = {
      startToStart: compare(from, start),
      startToEnd: compare(from, end),
      endToStart: compare(to, start),
      endToEnd: compare(to, end),
    };
    return relations.some((relation) => isRelated(ends, relation));
  });
  return isRelatedToAny === (side === "inside");
}

/** One end of a record's interval: infinite where it is open, null where the record is omitted. */
function endMs(cell: Cell | FilledCell, isOpen: boolean, open: number): number | null {
  if (cell.state === "blank") return isOpen ? open : null;
  return cell.state === "dated" ? cell.ms : null;
}

function compare(a: number, b: number): number {
  return a === b ? 0 : a < b ? -1 : 1;
}

const RELATION_WORDS: Readonly<Record<Relation, string>> = {
  before: "ended before",
  meets: "ended at the start of",
  overlaps: "began before and ended within",
  finishedBy: "began before and ended with",
  contains: "began before and ended after",
  starts: "began with and ended within",
  equals: "was exactly",
  startedBy: "began with and ended after",
  during: "was within",
  finishes: "began within and ended with",
  overlappedBy: "began within and ended after",
  metBy: "began at the end of",
  after: "began after",
};

function overlapInWords(condition: OverlapCondition): string {
  const { start, end, side, relations, intervals, openStart, openEnd } = condition;
  const not = side === "outside" ? "not " : "";
  const window = intervalsInWords({ intervals, recurring: [] });
  const opens = [
    openStart ? `a blank ${start} means no start` : null,
    openEnd ? `a blank ${end} means no end` : null,
  ];
  const rule = opens.filter((each) => each !== null).join(", ");
  return `${start} to ${end} ${not}${relationsInWords(relations)} ${window}${rule === "" ? "" : ` (${rule})`}`;
}

function relationsInWords(relations: readonly Relation[]): string {
  const isAll = (others: readonly Relation[]) =>
    others.length === relations.length && others.every((each) => relations.includes(each));
  if (isAll(INTERSECTING)) return "overlapped";
  if (isAll(RELATIONS.filter((each) => !INTERSECTING.includes(each)))) return "did not overlap";
  return relations.map((each) => RELATION_WORDS[each]).join(" or ");
}
