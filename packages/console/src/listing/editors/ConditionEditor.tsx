import type { ColumnType, TypedComparison, TypedCondition } from "@orisma/core/internal";
import { useState } from "react";
import type { ShownColumn } from "../narrowing.js";
import { typed } from "../conditions.js";
import { valueLine, valuesIn } from "../value-line.js";

/** A comparison as it is picked: with `not ` before it for its negation. */
type Way = TypedComparison | `not ${TypedComparison}`;

const WORDS: Readonly<Partial<Record<Way, string>>> = {
  on: "in the window",
  "not on": "not in the window",
  among: "one of",
  "not among": "none of",
  is: "=",
  "not is": "not =",
  below: "below",
  atMost: "at most",
  above: "above",
  atLeast: "at least",
  contains: "contains",
  "not contains": "does not contain",
  begins: "begins with",
  ends: "ends with",
  yes: "yes",
  "not yes": "no",
  dated: "with a value",
  "not dated": "without a value",
  blank: "blank",
  "not blank": "not blank",
  unreadable: "unreadable",
};

const NUMBER_WAYS: readonly Way[] = [
  "atLeast",
  "atMost",
  "above",
  "below",
  "is",
  "not is",
  "dated",
  "blank",
  "unreadable",
];

const WAYS: Readonly<Record<ColumnType, readonly Way[]>> = {
  date: ["on", "not on", "dated", "blank", "unreadable"],
  text: ["among", "not among", "contains", "not contains", "begins", "ends", "dated", "blank"],
  boolean: ["yes", "not yes", "dated", "blank", "unreadable"],
  integer: NUMBER_WAYS,
  decimal: NUMBER_WAYS,
};

/** The comparison with which a condition on a type of column begins. */
export function firstComparison(type: ColumnType): TypedComparison {
  return comparisonOf(WAYS[type][0] ?? "blank");
}

/** A condition on one column: which column, how it is compared, and with what. */
export function ConditionEditor(props: {
  readonly condition: TypedCondition;
  readonly columns: readonly ShownColumn[];
  readonly onChange: (condition: TypedCondition) => void;
}) {
  const { condition, columns, onChange } = props;
  const { column, comparison, isNegated } = condition;
  // What is typed of a list has commas that its values do not.
  const [text, setText] = useState(textOf(condition));
  const way: Way = isNegated ? `not ${comparison}` : comparison;
  const ways = WAYS[columns.find(({ name }) => name === column)?.type ?? "text"];
  const change = (nextWay: Way, nextColumn: string, nextText: string) => {
    const next = comparisonOf(nextWay);
    const values = !takesText(next) ? [] : next === "among" ? valuesIn(nextText) : [nextText];
    // Text is compared without regard to letter case, except whole values and what was so before.
    const usual = next === "among";
    const caseSensitive = nextWay === way ? (condition.caseSensitive ?? usual) : usual;
    onChange(
      typed(nextColumn, next, values, { isNegated: nextWay.startsWith("not "), caseSensitive }),
    );
  };
  return (
    <>
      <select
        className="select select-sm w-auto"
        aria-label="Column"
        value={column}
        onChange={({ target: { value } }) => {
          const next = columns.find(({ name }) => name === value);
          if (next === undefined) return;
          setText("");
          change(WAYS[next.type][0] ?? "blank", next.name, "");
        }}
      >
        {columns.map(({ name }) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <select
        className="select select-sm w-auto"
        aria-label={`How ${column} is requested`}
        value={way}
        onChange={({ target: { value } }) => change(value as Way, column, text)}
      >
        {(ways.includes(way) ? ways : [...ways, way]).map((each) => (
          <option key={each} value={each}>
            {WORDS[each] ?? each}
          </option>
        ))}
      </select>
      {takesText(comparison) ? (
        <input
          className="input input-sm w-48 font-mono"
          aria-label={`Value for ${column}`}
          placeholder={comparison === "among" ? "values, with commas between" : ""}
          value={text}
          onChange={({ target: { value } }) => {
            setText(value);
            change(way, column, value);
          }}
        />
      ) : null}
    </>
  );
}

function comparisonOf(way: Way): TypedComparison {
  return way.replace(/^not /, "") as TypedComparison;
}

/** Whether something is typed for a comparison. */
function takesText(comparison: TypedComparison): boolean {
  return !["yes", "dated", "blank", "unreadable"].includes(comparison);
}

function textOf({ comparison, values }: TypedCondition): string {
  return comparison === "among" ? valueLine(values) : (values[0] ?? "");
}
