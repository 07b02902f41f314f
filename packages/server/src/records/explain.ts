import {
  MARIADB,
  countStatement,
  cql2Of,
  cql2Text,
  dateText,
  datesOf,
  filterInWords,
  intervalText,
  isoWall,
  neighbourStatement,
  pageParts,
  pageStatement,
  recurringStretchText,
  renderNotice,
  sentenceOf,
  simplify,
  windowTexts,
  type Catalogue,
  type CompoundCondition,
  type CompoundExplained,
  type DateCondition,
  type Explanation,
  type Filter,
  type Neighbours,
  type StoredDates,
  type StoredTable,
} from "@orisma/core";
import type { Read } from "../database/index.js";
import { reasonsOf } from "./emptiness.js";
import { Counter, narrowingOf } from "./narrowing.js";
import { planOf } from "./plan.js";
import type { PreparedRequest } from "./prepared.js";

/** Explains a request: what it means, what it narrows, and how the database goes about it. */
export async function explain(prepared: PreparedRequest, read: Read): Promise<Explanation> {
  const { listing, planned, query, table } = prepared;
  const conditions = conditionsOf(prepared.filter);
  // As they were asked for, before parts that recur were laid out: the same, one by one.
  const asked = conditionsOf(planned.filter);
  const counter = new Counter(table, read);
  const narrowing = await narrowingOf(conditions, asked.map(filterInWords), table, counter);
  const neighbours = await neighboursOf(asked, table, listing.columns, read);
  const isEmpty = narrowing.steps.at(-1)?.inTurn === 0 || narrowing.records === 0;
  const known = { conditions, narrowing, neighbours, columns: listing.columns };
  const parts = pageParts(query, table);
  const page = pageStatement({ ...(parts[0] ?? query), counts: [] }, table, MARIADB);
  const count = countStatement(
    query.counts[0] ?? { filter: query.filter, cap: null },
    table,
    MARIADB,
  );
  return {
    sentence: sentenceOf(listing.declaration, planned),
    zone: listing.zone.id,
    conditions: askedConditions(prepared),
    compound: compoundOf(planned.compound, listing.columns),
    names: Object.fromEntries(
      [...table.columns].map(([name, { value }]): [string, string] => [value, name]),
    ),
    statements: { page, parts: parts.length, count: query.counts.length === 0 ? null : count },
    notices: planned.notices.map(renderNotice),
    narrowing,
    plan: {
      page: await planOf(page, query.filter, listing.source, read),
      count: await planOf(count, query.filter, listing.source, read),
    },
    neighbours,
    empty: isEmpty ? await reasonsOf({ ...known, table, counter, read }) : [],
  };
}

/** The conditions that must all hold, one by one. */
function conditionsOf(filter: Filter): readonly Filter[] {
  return filter.kind === "all" ? filter.of.flatMap(conditionsOf) : [filter];
}

function askedConditions({ planned }: PreparedRequest): Explanation["conditions"] {
  const windows = windowTexts(planned);
  return planned.conditions.map(({ condition, parameters }) => ({
    column: condition.column,
    side: condition.side,
    blanks: condition.blanks,
    parameters: parameters.flatMap(({ declaration: { name, comparison }, raw }) => {
      const window = windows[name];
      return window === undefined ? [] : [{ parameter: name, asked: raw, comparison, ...window }];
    }),
    intervals: condition.intervals.map(intervalText),
    recurring: condition.recurring.map(recurringStretchText),
  }));
}

function compoundOf(
  compound: CompoundCondition | null,
  columns: Catalogue,
): CompoundExplained | null {
  if (compound === null) return null;
  const { raw, filter } = compound;
  return {
    asked: raw,
    canonical: cql2Text(cql2Of(filter, columns)),
    sentence: filterInWords(filter),
    contradictions: simplify(filter, columns).contradictions,
  };
}

/** The dates nearest to the first start and the last end of every date condition. */
async function neighboursOf(
  conditions: readonly Filter[],
  table: StoredTable,
  columns: Catalogue,
  read: Read,
): Promise<readonly Neighbours[]> {
  const found: Neighbours[] = [];
  const dates = conditions.filter((each): each is DateCondition => each.kind === "date");
  for (const { column, intervals } of dates) {
    const known = columns.get(column);
    if (known?.type !== "date") continue;
    const edges = [
      ["start", intervals[0]?.start ?? null],
      ["end", intervals.at(-1)?.end ?? null],
    ] as const;
    for (const [edge, at] of edges) {
      if (at === null) continue;
      const [row] = await read(neighbourStatement(column, at, table, MARIADB));
      const dates = datesOf(column, table);
      const [before, after] = [0, 1].map((place) => dateTextOf(row?.[place] ?? null, dates));
      found.push({
        column,
        edge,
        at: isoWall(at.wall),
        before: before ?? null,
        after: after ?? null,
      });
    }
  }
  return found;
}

function dateTextOf(stored: string | number | null, { kind, msOf }: StoredDates): string | null {
  return stored === null ? null : dateText(msOf(stored), kind);
}
