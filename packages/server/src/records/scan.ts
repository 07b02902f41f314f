import {
  MARIADB,
  countStatement,
  filterInWords,
  namingOf,
  type Filter,
  type TextCondition,
} from "@orisma/core/internal";
import { Problem } from "../http/index.js";
import { hasIndexFor, indexFor } from "./indexable.js";
import type { PreparedRequest } from "./prepared.js";
import { narrowedTo } from "./read.js";
import { conditionsOf } from "./why.js";

/** Where EXPLAIN has the records that it expects to read. */
const ROWS = 8;

/**
 * Refuses a request that would look at more records one by one than can be in time, where nothing is found:
 * for a part of a text, which no index serves. How many the other conditions leave is the database's estimate.
 */
export async function mustBeFound(prepared: PreparedRequest, limit: number): Promise<void> {
  const { listing, filter, tables } = prepared;
  const { imported } = listing.source;
  const conditions = conditionsOf(filter);
  const unserved = conditions.filter((each) => isPartOfText(each, prepared));
  if (imported === null || unserved.length === 0) return;
  const others: Filter = {
    kind: "all",
    of: conditions.filter((each) => !unserved.includes(each)),
  };
  let records = 0;
  for (const { table, gateway } of tables) {
    const laid = await narrowedTo(others, table, gateway);
    const { text, values } = countStatement({ filter: laid, cap: null }, table, MARIADB);
    const rows = await gateway.read({ text: `EXPLAIN ${text}`, values });
    records += Math.max(0, ...rows.map((row) => Number(row[ROWS] ?? 0)));
  }
  if (records <= limit) return;
  const naming = namingOf(listing.declaration);
  const words = unserved.map((each) => `“${filterInWords(each, naming)}”`).join(" and ");
  const about = `about ${records.toLocaleString("en")} records, and ${limit.toLocaleString("en")} at most are`;
  const detail =
    `No index serves ${words}: it would be tried on ${about}. ` +
    `Request a shorter window${wholeAdvice(unserved, prepared)}`;
  throw new Problem("too-large", detail);
}

function isPartOfText(condition: Filter, { listing }: PreparedRequest): boolean {
  if (condition.kind !== "text" || condition.side === "outside") return false;
  const stored = listing.source.imported?.columns.get(condition.column);
  return stored?.dictionary === null && !hasIndexFor(condition, listing);
}

/** What else would serve: a whole text, or its beginning, with an index on it. */
function wholeAdvice(unserved: readonly Filter[], { listing }: PreparedRequest): string {
  const first = unserved.find((each): each is TextCondition => each.kind === "text");
  if (first === undefined || first.caseSensitive) return "";
  const whole: Filter = { ...first, pattern: ["x"] };
  const columns = indexFor(whole, listing) ?? [];
  const make = hasIndexFor(whole, listing)
    ? ""
    : ` once there is an index: orisma sources index ${listing.source.name} ${columns.join(" ")}`;
  return `, or ${first.column} by its beginning or as a whole${make}`;
}
