import type { ListingDetails, ProblemDocument } from "@orisma/client";
import { takesDates, type WindowText } from "@orisma/core";
import { useState, type SubmitEvent } from "react";
import { DateField } from "./DateField.js";
import { ValueField } from "./ValueField.js";
import type { PageState } from "./state.js";

/** How a date can be written, for whoever wrote one that cannot be read. */
const EXAMPLES = "2025-02-28, 2025-02, 2025, today or month-1";

export interface SentenceFormProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  /** What took effect, which after a swap is not what was asked. */
  readonly windows: Readonly<Record<string, WindowText>> | undefined;
  /** The extents that stand in what is not given. */
  readonly extents: Readonly<Record<string, string>> | undefined;
  readonly problem: ProblemDocument | null;
  readonly onAsk: (parameters: PageState) => void;
  readonly onClear: () => void;
}

/** The listing as a sentence with its dates to fill in: the sentence is the control. */
export function SentenceForm(props: SentenceFormProps) {
  const { listing, state, windows, extents, problem, onAsk, onClear } = props;
  const names = listing.parameters.map(({ name }) => name);
  const shown = Object.fromEntries(
    names.map((name) => [name, windows?.[name]?.value ?? state[name] ?? ""]),
  );
  // Typed values last until the page shows something else: then what is shown counts.
  const [draft, setDraft] = useState<{ readonly of: string; readonly values: PageState }>();
  const basis = JSON.stringify(shown);
  const values = draft?.of === basis ? draft.values : shown;
  const change = (name: string, value: string) =>
    setDraft({ of: basis, values: { ...values, [name]: value } });

  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    onAsk(values);
  };
  const failureOf = (name: string) => {
    const asked = values[name] === (state[name] ?? "");
    const found = asked ? problem?.faults.find(({ parameter }) => parameter === name) : undefined;
    if (found === undefined) return null;
    const { message, nearest } = found;
    const told = /[.?]$/.test(message) ? message : `${message}.`;
    if (nearest === undefined) return isDate(name) ? `${told} Write it as ${EXAMPLES}.` : told;
    return message.includes(nearest) ? told : `${told} Write ${nearest}.`;
  };
  const isDate = (name: string) =>
    listing.parameters.some((parameter) => parameter.name === name && takesDates(parameter));
  const isFiltered = names.some((name) => (values[name] ?? "") !== "");

  return (
    <form onSubmit={submit} className="font-sentence text-2xl" aria-label="What is shown">
      <h1 className="inline font-semibold">{listing.title}</h1>
      <span className="mt-3 flex flex-wrap items-start gap-x-5 gap-y-2">
        {listing.parameters.map((parameter) => {
          const { name } = parameter;
          if (!takesDates(parameter)) {
            return (
              <ValueField
                key={name}
                parameter={parameter}
                value={values[name] ?? ""}
                failure={failureOf(name)}
                onChange={(value) => change(name, value)}
              />
            );
          }
          return (
            <DateField
              key={name}
              parameter={parameter}
              zone={listing.zone}
              value={values[name] ?? ""}
              shown={extents?.[name]}
              failure={failureOf(name)}
              onChange={(value) => change(name, value)}
              onPick={(value) => onAsk({ ...values, [name]: value })}
            />
          );
        })}
        <span className="flex gap-2 font-sans text-base">
          <button type="submit" className="btn btn-primary">
            Show
          </button>
          <button type="button" className="btn btn-ghost" onClick={onClear} disabled={!isFiltered}>
            Clear
          </button>
        </span>
      </span>
    </form>
  );
}
