import { columnsOfCondition } from "./depends.js";
import { ANY_RECORD, type Query } from "./query.js";

/**
 * A query with another part in place of the one with an id, or without it where that is null. A group
 * that has no part any more is removed too; what is left of nothing matches every record.
 */
export function replacePart(query: Query, id: string, next: Query | null): Query {
  return replaced(query, id, next) ?? ANY_RECORD;
}

function replaced(query: Query, id: string, next: Query | null): Query | null {
  if (query.id === id) return next;
  switch (query.kind) {
    case "all":
    case "any": {
      if (query.of.length === 0) return query;
      const of = query.of.flatMap((each) => replaced(each, id, next) ?? []);
      return of.length === 0 ? null : { ...query, of };
    }
    case "not": {
      const of = replaced(query.of, id, next);
      return of === null ? null : { ...query, of };
    }
    default:
      return query;
  }
}

/** A query that matches what all of some parts match. */
export function allOf(parts: readonly Query[], id: string): Query {
  const [only] = parts;
  return parts.length === 1 && only !== undefined ? only : { kind: "all", id, of: parts };
}

/** The one column of which a part speaks, itself or negated; null for one of several. */
export function columnOfPart(part: Query): string | null {
  const plain = part.kind === "not" ? part.of : part;
  if (plain.kind === "derived") return "column" in plain.condition ? plain.condition.column : null;
  if (plain.kind === "all" || plain.kind === "any" || plain.kind === "not") return null;
  const [column, other] = columnsOfCondition(plain);
  return column === undefined || other !== undefined ? null : column;
}
