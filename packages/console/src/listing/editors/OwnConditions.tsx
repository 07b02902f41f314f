import type { ListingDetails } from "@orisma/client";
import { answerWindow, renderFault, type WindowContext } from "@orisma/core";
import { useState, type SubmitEvent } from "react";
import { columnOf, conditionsOf, withConditionOn, type Leaf } from "../conditions.js";
import type { ShownColumn } from "../narrowing.js";
import type { PageState } from "../state.js";

export interface OwnConditionsProps {
  readonly listing: ListingDetails;
  readonly column: ShownColumn;
  readonly state: PageState;
  /** Whether the column has no parameter of its own. */
  readonly isAlone: boolean;
  readonly context: WindowContext;
  readonly onGo: (state: PageState) => void;
}

/** What is typed of a column that has no parameter: a window, bounds, a part of its text. */
export function OwnConditions(props: OwnConditionsProps) {
  const { column, state, isAlone, context, onGo } = props;
  const { name, type } = column;
  const leaves = (conditionsOf(state) ?? []).flatMap((each) =>
    each.kind === "leaf" && columnOf(each) === name && !each.negated ? [each.leaf] : [],
  );
  const [draft, setDraft] = useState(() => fieldsOf(leaves));
  if (!isAlone || type === "boolean") return null;
  const set = (field: keyof Fields) => (value: string) => setDraft({ ...draft, [field]: value });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    const found = leavesOf(draft, name, type).map((leaf) => ({ leaf, negated: false }));
    onGo(withConditionOn(state, name, found));
  };
  const answer = draft.window.trim() === "" ? null : answerWindow(draft.window, context);
  const echo =
    answer === null
      ? "A date, month or year, or a window such as month-1/now"
      : answer.ok
        ? answer.value.sentence
        : answer.faults.map((each) => renderFault(each).message).join("; ");
  return (
    <form onSubmit={submit} className="flex flex-col items-start">
      {type === "date" ? (
        <Field
          label="in"
          value={draft.window}
          told={echo}
          isWrong={answer?.ok === false}
          onChange={set("window")}
        />
      ) : type === "text" ? (
        <Field label="contains" value={draft.text} told="" onChange={set("text")} />
      ) : (
        <>
          <Field label="at least" value={draft.least} told="" onChange={set("least")} />
          <Field label="at most" value={draft.most} told="" onChange={set("most")} />
        </>
      )}
      <button type="submit" className="btn btn-primary btn-sm">
        Show
      </button>
    </form>
  );
}

function Field(props: {
  readonly label: string;
  readonly value: string;
  readonly told: string;
  readonly isWrong?: boolean;
  readonly onChange: (value: string) => void;
}) {
  const { label, value, told, isWrong = false, onChange } = props;
  return (
    <label className="flex w-56 flex-col text-sm font-medium">
      {label}
      <input
        className="input w-full font-mono text-base font-normal"
        value={value}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={isWrong}
        onChange={(event) => onChange(event.target.value)}
      />
      <span className={`min-h-10 pt-1 font-normal ${isWrong ? "text-error" : "opacity-80"}`}>
        {told}
      </span>
    </label>
  );
}

interface Fields {
  readonly window: string;
  readonly text: string;
  readonly least: string;
  readonly most: string;
}

function fieldsOf(leaves: readonly Leaf[]): Fields {
  let fields: Fields = { window: "", text: "", least: "", most: "" };
  for (const leaf of leaves) {
    if (leaf.how === "window") fields = { ...fields, window: leaf.window };
    if (leaf.how === "contains") fields = { ...fields, text: leaf.text };
    if (leaf.how !== "compare") continue;
    const { comparison, value } = leaf;
    if (comparison.startsWith(">") || comparison === "=") fields = { ...fields, least: value };
    if (comparison.startsWith("<") || comparison === "=") fields = { ...fields, most: value };
  }
  return fields;
}

function leavesOf(
  { window, text, least, most }: Fields,
  column: string,
  type: ShownColumn["type"],
): readonly Leaf[] {
  const bound = (comparison: ">=" | "<=", value: string): readonly Leaf[] =>
    value.trim() === "" ? [] : [{ how: "compare", column, comparison, value: value.trim() }];
  if (type === "date") return window.trim() === "" ? [] : [{ how: "window", column, window }];
  if (type === "text") return text === "" ? [] : [{ how: "contains", column, text, folded: true }];
  return [...bound(">=", least), ...bound("<=", most)];
}
