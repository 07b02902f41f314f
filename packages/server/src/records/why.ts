import {
  EVERYTHING,
  MARIADB,
  dateText,
  datesOf,
  edgeValue,
  filterInWords,
  namingOf,
  isNothing,
  isoWall,
  neighbourStatement,
  piecesOf,
  withConstants,
  type Catalogue,
  type DateCondition,
  type DateKind,
  type Edge,
  type Filter,
  type Narrowing,
  type Neighbours,
  type StoredTable,
} from "@orisma/core/internal";
import type { Gateway, Read } from "../database/index.js";
import { reasonsOf } from "./emptiness.js";
import { Counter, narrowingOf, type CountTarget } from "./narrowing.js";
import type { PreparedRequest } from "./prepared.js";
import type { Sight } from "./sight.js";

/** What each condition of a request lets through, and why nothing comes of them. */
export interface Why {
  /** The conditions that must all hold, in stored units. */
  readonly conditions: readonly Filter[];
  readonly narrowing: Narrowing;
  readonly neighbours: readonly Neighbours[];
  /** Why there is no record; nothing where there is one. */
  readonly reasons: readonly string[];
}

/** What a request is counted in: its table, or all tables of its source. */
export function targetsOf(
  { everyTable }: PreparedRequest,
  read: Read,
  readBy: (gateway: Gateway) => Read,
): readonly CountTarget[] {
  return everyTable.map(({ label, table, cells, gateway }) => ({
    ...{ table, cells },
    read: label === null ? read : readBy(gateway),
  }));
}

/**
 * Counts what each condition lets through, and finds out why there is no record where there is none.
 * For readers all of it is inside of the listing's own filter, and of columns that they may see; for
 * authors that filter is traced as every other condition.
 */
export async function whyOf(
  prepared: PreparedRequest,
  targets: readonly CountTarget[],
  read: Read,
  table: StoredTable,
  sight: Sight,
): Promise<Why> {
  const { listing, planned } = prepared;
  const { columns } = listing;
  const own = sight.tracesFixed ? conditionsOf(prepared.fixed) : [];
  const fixed = sight.tracesFixed ? EVERYTHING : prepared.fixed;
  const conditions = [...own, ...conditionsOf(prepared.filter)];
  const requested = [
    ...(sight.tracesFixed ? conditionsOf(planned.fixedFilter.filter) : []),
    ...conditionsOf(planned.requested.filter),
  ];
  const counter = new Counter(targets, columns, fixed);
  const naming = namingOf(listing.declaration);
  const words = requested.map((each) => filterInWords(each, naming));
  const narrowing = await narrowingOf(conditions, words, columns, counter, sight, own.length);
  const seen = requested.filter((each) => each.kind !== "date" || sight.sees(each.column));
  const neighbours = await neighboursOf(seen, targets, prepared, fixed);
  const isEmpty = narrowing.steps.at(-1)?.inTurn === 0 || narrowing.records === 0;
  const known = {
    ...{ conditions, narrowing, neighbours, columns, fixed, table, counter, read, sight, naming },
    fixedWords: planned.fixedWords,
  };
  return { conditions, narrowing, neighbours, reasons: isEmpty ? await reasonsOf(known) : [] };
}

/** The conditions that must all hold, one by one. */
export function conditionsOf(filter: Filter): readonly Filter[] {
  return filter.kind === "all" ? filter.of.flatMap(conditionsOf) : [filter];
}

/** The dates nearest to the first start and the last end of every date condition. */
async function neighboursOf(
  conditions: readonly Filter[],
  targets: readonly CountTarget[],
  { listing: { columns } }: PreparedRequest,
  fixed: Filter,
): Promise<readonly Neighbours[]> {
  const found: Neighbours[] = [];
  const dates = conditions.filter((each): each is DateCondition => each.kind === "date");
  for (const condition of dates) {
    const { column } = condition;
    const known = columns.get(column);
    if (known?.type !== "date") continue;
    const ranges = piecesOf(condition, known.kind).map(({ interval }) => interval);
    const edges = [
      ["start", ranges[0]?.start ?? null],
      ["end", ranges.at(-1)?.end ?? null],
    ] as const;
    for (const [edge, at] of edges) {
      if (at === null) continue;
      const each = await Promise.all(
        targets.map((target) => neighboursIn(column, at, known.kind, target, fixed, columns)),
      );
      const text = (ms: number) => (Number.isFinite(ms) ? dateText(ms, known.kind) : null);
      found.push({
        column,
        edge,
        at: isoWall(at.wall),
        before: text(Math.max(...each.map(({ before }) => before))),
        after: text(Math.min(...each.map(({ after }) => after))),
      });
    }
  }
  return found;
}

/** In milliseconds; infinite where there is none. */
async function neighboursIn(
  column: string,
  at: Edge,
  kind: DateKind,
  { table, cells, read }: CountTarget,
  fixed: Filter,
  columns: Catalogue,
): Promise<{ readonly before: number; readonly after: number }> {
  const shared = cells[column];
  if (shared !== undefined) {
    const ms = shared.state === "dated" ? shared.ms : NaN;
    const edge = edgeValue(at, kind);
    return { before: ms < edge ? ms : -Infinity, after: ms >= edge ? ms : Infinity };
  }
  const within = withConstants(fixed, cells, columns);
  if (!within.ok || isNothing(within.value)) return { before: -Infinity, after: Infinity };
  const [row] = await read(neighbourStatement(column, at, within.value, table, MARIADB));
  const { msOf } = datesOf(column, table);
  const [before = null, after = null] = row ?? [];
  return {
    before: before === null ? -Infinity : msOf(before),
    after: after === null ? Infinity : msOf(after),
  };
}
