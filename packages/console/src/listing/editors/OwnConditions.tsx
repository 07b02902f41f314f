import type { ListingDetails } from "@orisma/client";
import { answerWindow, renderFault, type WindowContext } from "@orisma/core/internal";
import { useState, type SubmitEvent } from "react";
import type { ShownColumn } from "../narrowing.js";
import { ownFields, withOwnFields, type OwnFields } from "../own-conditions.js";
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
  const { listing, column, state, isAlone, context, onGo } = props;
  const { type } = column;
  const [draft, setDraft] = useState(() => ownFields(state, listing, column.name).fields);
  if (!isAlone || type === "boolean") return null;
  const set = (field: keyof OwnFields) => (value: string) => setDraft({ ...draft, [field]: value });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    onGo(withOwnFields(state, listing, column, draft));
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
          hint={echo}
          isWrong={answer?.ok === false}
          onChange={set("window")}
        />
      ) : type === "text" ? (
        <Field label="contains" value={draft.text} hint="" onChange={set("text")} />
      ) : (
        <>
          <Field label="at least" value={draft.least} hint="" onChange={set("least")} />
          <Field label="at most" value={draft.most} hint="" onChange={set("most")} />
        </>
      )}
      <button type="submit" className="btn btn-primary btn-sm">
        Apply
      </button>
    </form>
  );
}

function Field(props: {
  readonly label: string;
  readonly value: string;
  readonly hint: string;
  readonly isWrong?: boolean;
  readonly onChange: (value: string) => void;
}) {
  const { label, value, hint, isWrong = false, onChange } = props;
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
        {hint}
      </span>
    </label>
  );
}
