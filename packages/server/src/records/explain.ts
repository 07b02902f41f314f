import {
  MARIADB,
  countStatement,
  cql2Of,
  cql2Text,
  filterInWords,
  intervalText,
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
  type Explanation,
} from "@orisma/core";
import type { PreparedRequest } from "./service.js";

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

/** Explains a request without running it. */
export function explain({ listing, planned, query, table }: PreparedRequest): Explanation {
  const windows = windowTexts(planned);
  const conditions = planned.conditions.map(({ condition, parameters }) => ({
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
  const [count] = query.counts;
  const parts = pageParts(query, table);
  const [first = query] = parts;
  return {
    sentence: sentenceOf(listing.declaration, planned),
    zone: listing.zone.id,
    conditions,
    compound: compoundOf(planned.compound, listing.columns),
    names: Object.fromEntries(
      [...table.columns].map(([name, { value }]): [string, string] => [value, name]),
    ),
    statements: {
      page: pageStatement({ ...first, counts: [] }, table, MARIADB),
      parts: parts.length,
      count: count === undefined ? null : countStatement(count, table, MARIADB),
    },
    notices: planned.notices.map(renderNotice),
  };
}
