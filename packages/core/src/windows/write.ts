import { MS_PER_HOUR, MS_PER_MINUTE, MS_PER_SECOND } from "../calendar/index.js";
import {
  DAY_WORDS,
  WEEKDAYS,
  type Alternative,
  type Base,
  type Duration,
  type Part,
  type Range,
  type Recurring,
  type Window,
} from "./notation.js";

/** The one text of a window, which reads back as the same window. */
export function windowText({ alternatives }: Window): string {
  return alternatives.map(alternativeText).join("|");
}

function alternativeText({ range, recurring }: Alternative): string {
  return [rangeText(range), ...recurring.map(recurringText)].join(";");
}

function rangeText(range: Range): string {
  switch (range.kind) {
    case "part":
      return range.part.text;
    case "ends":
      return `${range.start?.text ?? ".."}/${range.end?.text ?? ".."}`;
    case "lengthBefore":
      return `${durationText(range.length)}/${range.part.text}`;
    case "lengthAfter":
      return `${range.part.text}/${durationText(range.length)}`;
  }
}

/** The text of a part. */
export function partText(base: Base, shifts: Part["shifts"]): string {
  const moved = shifts.map(
    ({ sign, duration }) => `${sign < 0 ? "-" : "+"}${durationText(duration)}`,
  );
  return baseText(base) + moved.join("");
}

const WORDS_OF_DAYS = new Map([...DAY_WORDS].map(([word, days]) => [days, word]));

function baseText(base: Base): string {
  switch (base.kind) {
    case "written":
      return base.written.canonical;
    case "now":
      return "now";
    case "unit": {
      const { unit, offset, nth } = base;
      const word = unit === "day" ? WORDS_OF_DAYS.get(offset) : undefined;
      if (word !== undefined) return word;
      const count = offset === 0 ? "" : offset < 0 ? String(offset) : `+${offset}`;
      return `${unit}${count}${nth === null ? "" : `.${nth}`}`;
    }
  }
}

/** The text of a length (ISO 8601-1:2019, 5.5.2). */
export function durationText({ years, months, weeks, days, elapsedMs }: Duration): string {
  const field = (value: number, letter: string) => (value === 0 ? "" : `${value}${letter}`);
  const hours = Math.floor(elapsedMs / MS_PER_HOUR);
  const minutes = Math.floor((elapsedMs % MS_PER_HOUR) / MS_PER_MINUTE);
  const seconds = (elapsedMs % MS_PER_MINUTE) / MS_PER_SECOND;
  const date = field(years, "Y") + field(months, "M") + field(weeks, "W") + field(days, "D");
  const time = field(hours, "H") + field(minutes, "M") + field(seconds, "S");
  if (date === "" && time === "") return "P0D";
  return `P${date}${time === "" ? "" : `T${time}`}`;
}

/** The text of a recurring part. */
export function recurringText(rule: Recurring): string {
  const items =
    rule.name === "BYDAY"
      ? rule.spans.map(({ from, to, nth }) => {
          const first = `${nth ?? ""}${WEEKDAYS[from - 1] ?? ""}`;
          return from === to ? first : `${first}..${WEEKDAYS[to - 1] ?? ""}`;
        })
      : rule.spans.map(({ from, to }) => (from === to ? String(from) : `${from}..${to}`));
  return `${rule.name}=${items.join(",")}`;
}
