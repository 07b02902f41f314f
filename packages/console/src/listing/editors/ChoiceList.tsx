import { OrismaError, type ListingDetails } from "@orisma/client";
import type { Choice, ChoicesAnswer, RecordValue } from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useId, useState } from "react";
import { service } from "../../service/service.js";
import { numberText } from "../counts.js";
import { searchOf, withParameters, type PageState } from "../state.js";

export interface ChoiceListProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly state: PageState;
  /** The values that are chosen now. */
  readonly chosen: readonly string[];
  /** Whether several can be chosen at once. */
  readonly several: boolean;
  /** Whether those chosen are the ones omitted. */
  readonly leavesOut: boolean;
  /** Whether a value can be requested at all. */
  readonly takes: (value: string) => boolean;
  readonly onChoose: (values: readonly string[]) => void;
}

/**
 * The values of a column with the records that each would give under the other conditions. Its name
 * chooses one at once; those that are ticked take effect together, or not at all.
 */
export function ChoiceList(props: ChoiceListProps) {
  const { listing, column, state, chosen, several, leavesOut } = props;
  const [search, setSearch] = useState("");
  const [ticked, setTicked] = useState<readonly string[]>(chosen);
  const wanted = useDeferredValue(search);
  const id = useId();
  const requested = withParameters(state, { order: [], size: [] });
  const found = useQuery({
    meta: { doing: "Counting the values" },
    queryKey: [
      "choices",
      listing.name,
      listing.version,
      column,
      wanted,
      searchOf(requested).toString(),
    ],
    queryFn: ({ signal }) =>
      service.choices(listing.name, column, { ...requested, search: wanted, limit: MAX }, signal),
    placeholderData: keepPreviousData,
  });
  const tick = (value: string) =>
    setTicked(
      ticked.includes(value) ? ticked.filter((each) => each !== value) : [...ticked, value],
    );
  const { choices = [], groups = [], recent = [], more = false } = found.data ?? {};
  const offered = new Set(choices.map(({ value }) => textOf(value)));
  // What is chosen and has no records now is shown separately, not hidden.
  const isReported = found.data !== undefined && !found.isPlaceholderData && wanted === "";
  const gone = isReported ? chosen.filter((value) => !offered.has(value)) : [];
  const row = (choice: Choice) => (
    <Row
      key={textOf(choice.value)}
      {...props}
      choice={choice}
      isTicked={ticked.includes(textOf(choice.value))}
      onTick={tick}
    />
  );
  return (
    <section aria-label={`Values of ${column}`} className="w-80 max-w-full">
      <label htmlFor={id} className="block pb-1 text-sm font-medium">
        {leavesOut ? "Values to exclude" : "Values"}
      </label>
      <input
        id={id}
        type="search"
        className="input w-full"
        value={search}
        placeholder="Find a value"
        autoComplete="off"
        onChange={(event) => setSearch(event.target.value)}
      />
      {found.isError ? (
        <p role="alert" className="mt-2 text-error">
          {isOverloaded(found.error)
            ? "There are too many values to count them in time: type a part of one to find it."
            : found.error.message}
        </p>
      ) : null}
      <div
        className="mt-2 max-h-80 min-h-24 overflow-y-auto border-y border-base-300"
        aria-busy={found.isFetching}
        role="region"
        aria-label="Offer"
        tabIndex={0}
      >
        {wanted === "" ? <Groups {...props} groups={groups} /> : null}
        {recent.length === 0 || wanted !== "" ? null : (
          <Section title="Recently used">{recent.map(row)}</Section>
        )}
        {gone.length === 0 ? null : (
          <Section title="Selected, without records now">
            {gone.map((value) => row({ value, records: 0 }))}
          </Section>
        )}
        <Section title={groups.length + recent.length + gone.length === 0 ? null : "All"}>
          {choices.map(row)}
        </Section>
        {found.data !== undefined && choices.length === 0 ? (
          <p className="p-2">No value {wanted === "" ? "is left" : `has “${wanted}” in it`}.</p>
        ) : null}
      </div>
      {more ? <p className="mt-1 text-sm">There are more values: type to find them.</p> : null}
      {several ? <Ticked {...props} ticked={ticked} onUndo={() => setTicked(chosen)} /> : null}
    </section>
  );
}

function Row(
  props: ChoiceListProps & {
    readonly choice: Choice;
    readonly isTicked: boolean;
    readonly onTick: (value: string) => void;
  },
) {
  const { chosen, several, takes, onChoose, isTicked, onTick } = props;
  const { value, records, disabled } = props.choice;
  const text = textOf(value);
  const isShut = disabled === true || !takes(text);
  return (
    <li className="flex items-center gap-2 border-b border-base-300 px-1 py-0.5 [content-visibility:auto] [contain-intrinsic-size:auto_2.25rem]">
      {several ? (
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={`Select ${text}`}
          checked={isTicked}
          disabled={isShut}
          onChange={() => onTick(text)}
        />
      ) : null}
      <button
        type="button"
        className="flex min-h-8 flex-1 cursor-pointer items-center justify-between gap-3 text-start hover:underline disabled:cursor-not-allowed disabled:no-underline disabled:opacity-70 aria-pressed:font-semibold"
        aria-pressed={chosen.includes(text)}
        disabled={isShut}
        title={isShut ? "Shown but disabled" : undefined}
        onClick={() => onChoose([text])}
      >
        <span className="break-words">{text}</span>
        <span className="tabular-nums">{numberText(records)}</span>
      </button>
    </li>
  );
}

/** The groups of values that a listing declares. */
function Groups(props: ChoiceListProps & { readonly groups: ChoicesAnswer["groups"] }) {
  const { groups, several, takes, onChoose } = props;
  if (groups.length === 0) return null;
  return (
    <Section title="Groups">
      {groups.map(({ name, records, ...group }) => {
        const values = group.values.map(String);
        return (
          <li key={name} className="border-b border-base-300 px-1">
            <button
              type="button"
              className="flex min-h-9 w-full cursor-pointer items-center justify-between gap-3 text-start hover:underline disabled:no-underline disabled:opacity-70"
              disabled={!several || !values.every(takes)}
              onClick={() => onChoose(values)}
            >
              <span>
                {name} <span className="text-sm opacity-80">({values.join(", ")})</span>
              </span>
              <span className="tabular-nums">{numberText(records)}</span>
            </button>
          </li>
        );
      })}
    </Section>
  );
}

/** What takes what is ticked, or goes back to what was chosen. */
function Ticked(
  props: ChoiceListProps & { readonly ticked: readonly string[]; readonly onUndo: () => void },
) {
  const { chosen, leavesOut, ticked, onChoose, onUndo } = props;
  const changed = ticked.length !== chosen.length || ticked.some((each) => !chosen.includes(each));
  return (
    <div className="mt-2 flex gap-2">
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={!changed}
        onClick={() => onChoose(ticked)}
      >
        {ticked.length === 0
          ? chosen.length === 0
            ? "Apply"
            : "Select none"
          : `${leavesOut ? "Exclude" : "Apply"} ${ticked.length}`}
      </button>
      <button type="button" className="btn btn-ghost btn-sm" disabled={!changed} onClick={onUndo}>
        Cancel
      </button>
    </div>
  );
}

function isOverloaded(error: Error): boolean {
  return error instanceof OrismaError && error.status === 503;
}

/** Values that are fetched at once; others are found by typing. */
const MAX = 200;

function Section(props: { readonly title: string | null; readonly children: React.ReactNode }) {
  return (
    <>
      {props.title === null ? null : (
        <h3 className="bg-base-300 px-1 text-sm font-medium">{props.title}</h3>
      )}
      <ul>{props.children}</ul>
    </>
  );
}

function textOf(value: RecordValue): string {
  return String(value);
}
