import {
  MARIADB,
  NOTHING,
  countStatement,
  cql2Of,
  cql2Text,
  dateText,
  datesOf,
  edgeValue,
  filterInWords,
  intervalText,
  isNothing,
  isoWall,
  neighbourStatement,
  pageParts,
  pageStatement,
  piecesOf,
  recurringStretchText,
  renderNotice,
  sentenceOf,
  simplify,
  windowTexts,
  withConstants,
  type Catalogue,
  type CompoundCondition,
  type CompoundExplained,
  type DateCondition,
  type DateKind,
  type Edge,
  type Explanation,
  type Filter,
  type Neighbours,
} from "@orisma/core";
import type { Gateway, Read } from "../database/index.js";
import { reasonsOf } from "./emptiness.js";
import { NO_MEMBER, memberQuery, type AskedMember } from "./members.js";
import { Counter, narrowingOf, type CountTarget } from "./narrowing.js";
import { planOf } from "./plan.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";

/** Explains a request: what it means, what it narrows, and how the database goes about it. */
export async function explain(
  prepared: PreparedRequest,
  read: Read,
  readBy: (gateway: Gateway) => Read,
): Promise<Explanation> {
  const { listing, planned, members, everyMember } = prepared;
  // Of several tables the statements are those of the first that is opened.
  const { descending } = prepared.query.order;
  const opened = (descending ? members?.at(-1) : members?.[0]) ?? null;
  const first = members === null ? null : (opened ?? NO_MEMBER);
  const table = opened?.table ?? prepared.table;
  const query =
    first === null
      ? prepared.query
      : memberQuery(prepared.query, { ...first, filter: await narrowedOf(opened) }, table);
  const targets =
    everyMember?.map((member) => ({ ...member, read: readBy(member.gateway) })) ??
    ([{ table, read, cells: {} }] satisfies CountTarget[]);
  const conditions = conditionsOf(prepared.filter);
  // As they were asked for, before parts that recur were laid out: the same, one by one.
  const asked = conditionsOf(planned.filter);
  const counter = new Counter(targets, listing.columns, prepared.fixed);
  const narrowing = await narrowingOf(
    conditions,
    asked.map(filterInWords),
    listing.columns,
    counter,
  );
  const neighbours = await neighboursOf(asked, targets, prepared);
  const isEmpty = narrowing.steps.at(-1)?.inTurn === 0 || narrowing.records === 0;
  const known = {
    conditions,
    narrowing,
    neighbours,
    columns: listing.columns,
    fixed: prepared.fixed,
  };
  const parts = pageParts(query, table);
  const page = pageStatement({ ...(parts[0] ?? query), counts: [] }, table, MARIADB);
  const count = countStatement(
    { ...(query.counts[0] ?? prepared.query.counts[0] ?? { cap: null }), filter: query.filter },
    table,
    MARIADB,
  );
  return {
    sentence: sentenceOf(listing.declaration, planned),
    zone: listing.zone.id,
    conditions: askedConditions(prepared),
    values: planned.values.map(({ parameters, filter }) => ({
      parameters: parameters.map(({ declaration: { name }, raw, values }) => ({
        parameter: name,
        asked: raw,
        values,
      })),
      sentence: filterInWords(filter),
    })),
    compound: compoundOf(planned.compound, listing.columns),
    names: Object.fromEntries(
      [...table.columns].map(([name, { value }]): [string, string] => [value, name]),
    ),
    statements: {
      page,
      parts: parts.length,
      count: prepared.query.counts.length === 0 ? null : count,
    },
    notices: planned.notices.map(renderNotice),
    narrowing,
    ...(members === null || everyMember === null
      ? {}
      : { tables: { opened: members.length, of: everyMember.length } }),
    plan:
      first === NO_MEMBER
        ? { page: [], count: [] }
        : {
            page: await planOf(page, query.filter, listing.source, read),
            count: await planOf(count, query.filter, listing.source, read),
          },
    neighbours,
    empty: isEmpty ? await reasonsOf({ ...known, table, counter, read }) : [],
  };
}

/** What is asked of a table, narrowed to its dates; nothing of none. */
async function narrowedOf(member: AskedMember | null): Promise<Filter> {
  return member === null ? NOTHING : narrowedTo(member.filter, member.table, member.gateway);
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
  targets: readonly CountTarget[],
  { listing: { columns }, fixed }: PreparedRequest,
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
