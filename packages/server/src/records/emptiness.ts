import {
  MARIADB,
  cellInWords,
  dateTextMs,
  distinctStatement,
  filterInWords,
  type ColumnNaming,
  isEverything,
  nearest,
  plainMatch,
  simplify,
  type Catalogue,
  type Filter,
  type Narrowing,
  type Neighbours,
  type StoredTable,
  type TextCondition,
} from "@orisma/core/internal";
import type { Read } from "../database/index.js";
import type { Counter } from "./narrowing.js";
import type { Sight } from "./sight.js";

/** Values of a column among which a misspelt one is looked for. */
const MAX_VALUES = 1_000;

/** What is known of a request that no record satisfies. */
export interface EmptyRequest {
  readonly conditions: readonly Filter[];
  readonly narrowing: Narrowing;
  readonly neighbours: readonly Neighbours[];
  readonly columns: Catalogue;
  /** The condition within which causes are looked for. */
  readonly fixed: Filter;
  /** The listing's own filter in words, as far as whoever asks may know of it. */
  readonly fixedWords: readonly string[];
  readonly table: StoredTable;
  readonly counter: Counter;
  readonly read: Read;
  /** Of which columns something may be reported that no record shows. */
  readonly sight: Sight;
  /** What people call the columns. */
  readonly naming: ColumnNaming;
}

/** Why no record satisfies a request: each likely cause tested, in words. */
export async function reasonsOf(request: EmptyRequest): Promise<readonly string[]> {
  const { conditions, narrowing, columns } = request;
  if (narrowing.records === 0) {
    if (isEverything(request.fixed)) return ["the source has no records"];
    const own = request.fixedWords.join("; and ");
    return [`the listing has no records: its own conditions match none: ${own}`];
  }
  const { contradictions } = simplify({ kind: "all", of: conditions }, columns);
  if (contradictions.length > 0) return contradictions;
  const found: string[] = [];
  for (const [index, condition] of conditions.entries()) {
    const step = narrowing.steps[index];
    if (step?.alone === 0) found.push(...(await causesOf(condition, step.condition, request)));
  }
  if (found.length > 0) return found;
  const turn = narrowing.steps.find(({ inTurn }) => inTurn === 0);
  if (turn === undefined)
    return ["no record satisfies the conditions; which one it is was not counted"];
  const alone = narrowing.steps.map(
    (step) => `${step.condition} lets ${step.alone ?? "many"} through`,
  );
  return [`each condition has records, but none has all: ${alone.join(", ")}`];
}

async function causesOf(
  condition: Filter,
  words: string,
  request: EmptyRequest,
): Promise<readonly string[]> {
  switch (condition.kind) {
    case "date":
      return [dateCause(condition.column, words, request)];
    case "text":
      return textCauses(condition, words, request);
    case "oneOf": {
      const causes: string[] = [];
      for (const value of condition.values) {
        if (request.columns.get(condition.column)?.type !== "text") break;
        const one = { ...condition, kind: "text", pattern: [value] } as const;
        causes.push(...(await textCauses(one, `${condition.column} is “${value}”`, request)));
      }
      return causes.length > 0 ? causes : [`no record matches “${words}”`];
    }
    case "number": {
      const { least, most } = condition;
      const onBound = {
        ...condition,
        least: least && { ...least, isIn: true },
        most: most && { ...most, isIn: true },
      };
      const count = await request.counter.count(onBound);
      return count === null || count === 0
        ? [`no record matches “${words}”`]
        : [
            `no record matches “${words}”, but ${count} ${count === 1 ? "lies" : "lie"} just on the bound: ${filterInWords(onBound, request.naming)}`,
          ];
    }
    default:
      return [`no record matches “${words}”`];
  }
}

function dateCause(column: string, words: string, request: EmptyRequest): string {
  const { narrowing, neighbours, columns } = request;
  const { blank = 0, unreadable = 0 } = narrowing.without[column] ?? {};
  if (narrowing.records !== null && (blank ?? 0) + (unreadable ?? 0) === narrowing.records) {
    return `${column} is blank or unreadable in every record`;
  }
  const of = neighbours.filter((each) => each.column === column);
  const found = columns.get(column);
  const kind = found?.type === "date" ? found.kind : "date";
  const shown = (date: string) => cellInWords(dateTextMs(date), kind);
  const start = of.find(({ edge }) => edge === "start");
  const end = of.find(({ edge }) => edge === "end");
  if (start?.after === null) {
    return `no record matches “${words}”: the last date of ${column} is ${start.before === null ? "none" : shown(start.before)}`;
  }
  if (end?.before === null) {
    return `no record matches “${words}”: the first date of ${column} is ${end.after === null ? "none" : shown(end.after)}`;
  }
  const near = [start?.before, end?.after].flatMap((each) => (each == null ? [] : [shown(each)]));
  return `no record matches “${words}”${near.length === 0 ? "" : `; the nearest are ${near.join(" and ")}`}`;
}

async function textCauses(
  condition: TextCondition,
  words: string,
  { counter, read, table, columns, fixed, sight }: EmptyRequest,
): Promise<readonly string[]> {
  const folded = await counter.count({ ...condition, caseSensitive: false });
  if (condition.caseSensitive && folded !== null && folded > 0) {
    return [
      `no record matches “${words}”, but ${folded} ${folded === 1 ? "has" : "have"} it in other letter case`,
    ];
  }
  const plain = plainMatch(condition.pattern);
  if (plain?.match !== "is" || columns.get(condition.column)?.type !== "text") {
    return [`no record matches “${words}”`];
  }
  const values = await read(
    distinctStatement(condition.column, MAX_VALUES, table, MARIADB, { within: fixed }),
  );
  const known = values
    .map(([value]) => String(value ?? ""))
    .filter((each) => sight.isOffered(condition.column, each));
  const padded = known.find((each) => each !== plain.text && each.trim() === plain.text.trim());
  const meant = padded ?? nearest(plain.text, known);
  return [`no record matches “${words}”${meant === null ? "" : `; there is “${meant}”`}`];
}
