import {
  END_MS,
  FIRST_MS,
  MS_PER_DAY,
  isoDay,
  isoInstant,
  isoWall,
  wallMs,
  type Interval,
} from "../../../calendar/index.js";
import { edgeValue, type Catalogue, type DateCondition } from "../../../filters/index.js";
import type { DateKind } from "../../../reading/index.js";
import { recurringText } from "../../../windows/index.js";
import { property } from "../building.js";
import type { Expression } from "../expression.js";
import { ofSide, withBlanks, type Written } from "./common.js";

export const dateWritten: Written<DateCondition> = (condition, columns) =>
  withBlanks(condition, dateExpression(condition, columns));

function dateExpression(condition: DateCondition, columns: Catalogue): Expression {
  const { column, side, intervals, recurring } = condition;
  const kind = kindOf(column, columns);
  const windows = [
    ...intervals.flatMap((interval) => windowText(interval, kind) ?? []),
    ...recurring.flatMap(({ interval, rules }) => {
      const text = windowText(interval, kind);
      return text === null ? [] : [[text, ...rules.map(recurringText)].join(";")];
    }),
  ];
  if (windows.length === 0) return ofSide(side, column, null);
  return ofSide(side, column, {
    op: "inWindow",
    args: [property(column), { text: windows.join("|") }],
  });
}

/** An interval in the notation of windows, each end with all that it names; null for an empty one. */
export function windowText({ start, end }: Interval, kind: DateKind): string | null {
  const [from, to] = [start, end].map((edge) => (edge === null ? null : edgeValue(edge, kind)));
  if (from == null && to == null) return "../..";
  if (from != null && to != null && from >= to) return null;
  // Outside the years that can be written there is no date.
  if ((from != null && from >= END_MS) || (to != null && to <= FIRST_MS)) return null;
  return `${from == null ? ".." : startText(from, kind)}/${to == null ? ".." : endText(to, kind)}`;
}

function startText(ms: number, kind: DateKind): string {
  return isDay(ms, kind) ? isoDay(ms / MS_PER_DAY) : momentText(ms, kind);
}

function endText(ms: number, kind: DateKind): string {
  return isDay(ms, kind) ? isoDay(ms / MS_PER_DAY - 1) : momentText(ms - 1, kind);
}

/** A day of a column of instants depends on the zone, and so is written as moments. */
function isDay(ms: number, kind: DateKind): boolean {
  return kind !== "instant" && ms % MS_PER_DAY === 0;
}

function momentText(ms: number, kind: DateKind): string {
  const text = kind === "instant" ? isoInstant(ms as never) : isoWall(wallMs(ms));
  if (text.includes(".")) return text;
  return kind === "instant" ? text.replace("Z", ".000Z") : `${text}.000`;
}

export function kindOf(column: string, columns: Catalogue): DateKind {
  const found = columns.get(column);
  return found?.type === "date" ? found.kind : "date";
}
