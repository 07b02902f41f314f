import { kindOfCondition, type Condition } from "./conditions/index.js";
import type { Filter } from "./filter.js";

/** What people call a column: its label, or its name. */
export type ColumnNaming = (column: string) => string;

const BY_NAME: ColumnNaming = (column) => column;

/**
 * A filter in words: each condition with its column, groups in brackets.
 *
 * @example filterInWords(filter) // "raised on 28 February 2025 and (cost at least 500 or task contains “lock”)"
 */
export function filterInWords(filter: Filter, naming = BY_NAME): string {
  return inWords(filter, naming, false);
}

function inWords(filter: Filter, naming: ColumnNaming, isInner: boolean): string {
  switch (filter.kind) {
    case "all":
    case "any": {
      const [only] = filter.of;
      if (only === undefined) return filter.kind === "all" ? "every record" : "no record";
      if (filter.of.length === 1) return inWords(only, naming, isInner);
      const word = filter.kind === "all" ? " and " : " or ";
      const words = filter.of.map((each) => inWords(each, naming, true)).join(word);
      return isInner ? `(${words})` : words;
    }
    case "not":
      return `not ${inWords(filter.of, naming, true)}`;
    default:
      return kindOfCondition(filter).words(withColumnNames(filter, naming));
  }
}

/** The fields in which conditions name columns. */
const COLUMN_FIELDS = ["column", "left", "right", "from", "to", "start", "end"] as const;

/** A condition whose columns have the names that people call them; for its words alone. */
function withColumnNames(condition: Condition, naming: ColumnNaming): Condition {
  const columns = kindOfCondition(condition).columns(condition);
  const fields = condition as unknown as Readonly<Record<string, unknown>>;
  const named = COLUMN_FIELDS.flatMap((field) => {
    const column = fields[field];
    const isColumn = typeof column === "string" && columns.includes(column);
    return isColumn ? [[field, naming(column)] as const] : [];
  });
  return { ...condition, ...Object.fromEntries(named) };
}
