import type { ListingDetails } from "@orisma/client";
import {
  ISO_CALENDAR,
  takesDates,
  typedCondition,
  type ParameterDeclaration,
  type RecordsMeta,
  type TypedCondition,
  type WindowContext,
  type WindowView,
} from "@orisma/core/internal";
import { useState, type SubmitEvent } from "react";
import { partsOf, typed } from "../conditions.js";
import {
  hasDefault,
  isCompoundOn,
  parametersOn,
  takesValue,
  withCondition,
  withoutColumn,
  withWindow,
  withYes,
  requestedYes,
  type ShownColumn,
} from "../narrowing.js";
import { valueOf, withParameters, type PageState } from "../state.js";
import { Blanks } from "./Blanks.js";
import { Calendar } from "./Calendar.js";
import { ChoiceList } from "./ChoiceList.js";
import { valueToSend } from "../echo.js";
import { ParameterField } from "./Fields.js";
import { OwnConditions } from "./OwnConditions.js";
import { WindowList } from "./WindowList.js";

export interface ColumnEditorProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly state: PageState;
  readonly windows: readonly WindowView[] | undefined;
  /** What was applied of each parameter, by name. */
  readonly applied: RecordsMeta["values"];
  /** The extents that stand in what is not given. */
  readonly extents: Readonly<Record<string, string>> | undefined;
  readonly context: WindowContext;
  /** The day today, in the listing's zone. */
  readonly today: number;
  readonly failureOf: (parameter: string) => string | null;
  readonly onGo: (state: PageState) => void;
}

/** All that can be requested of a column: typed, from a calendar, by name, from its values, blanks. */
export function ColumnEditor(props: ColumnEditorProps) {
  const { listing, column, state, extents, context, today, failureOf, onGo } = props;
  const shown = listing.shown.find(({ name }) => name === column);
  const parameters = parametersOn(listing, column);
  const typed = parameters.filter((each) => !isChosen(each));
  const label = listing.labels?.[column] ?? column;
  const isDate = shown?.type === "date";
  const offer = listing.choices?.[column] ?? {};
  const chosen = isDate ? chosenDays(props) : null;
  return (
    <>
      <h2 className="sr-only">{label}</h2>
      <div
        className={`grid grid-cols-[minmax(0,1fr)] items-start gap-x-8 gap-y-4 ${isDate ? "md:grid-cols-[14rem_20rem] xl:grid-cols-[14rem_20rem_1fr]" : "md:grid-cols-[minmax(14rem,max-content)_14rem]"}`}
      >
        {isDate || offer.values === false ? null : (
          <Choices {...props} shown={shown} parameters={parameters} />
        )}
        <div className="flex flex-col gap-3">
          {typed.length === 0 ? null : (
            <TypedForm
              parameters={typed}
              context={context}
              state={state}
              applied={props.applied}
              extents={extents}
              failureOf={failureOf}
              onGo={onGo}
            />
          )}
          {isCompoundOn(listing, column) && shown !== undefined ? (
            <OwnConditions
              key={valueOf(state, "filter")}
              listing={listing}
              column={shown}
              state={state}
              isAlone={parameters.length === 0}
              context={context}
              onGo={onGo}
            />
          ) : null}
          <Blanks listing={listing} column={column} isDate={isDate} state={state} onGo={onGo} />
        </div>
        {isDate ? (
          <>
            {offer.calendar === false ? null : (
              <Calendar
                listing={listing}
                column={column}
                state={withoutColumn(state, listing, column)}
                today={today}
                weekStart={context.calendar?.weekStart ?? ISO_CALENDAR.weekStart}
                chosen={chosen}
                onPick={(window) => {
                  const next = withWindow(state, listing, column, window);
                  if (next !== null) onGo(next);
                }}
              />
            )}
            {offer.windows === false ? null : (
              <WindowList
                listing={listing}
                column={column}
                state={withoutColumn(state, listing, column)}
                context={context}
                onGo={onGo}
              />
            )}
          </>
        ) : null}
      </div>
    </>
  );
}

function isChosen({ type }: ParameterDeclaration): boolean {
  return type === "oneOf" || type === "several" || type === "boolean";
}

/** What is typed takes effect together, with Enter or by the button. */
export function TypedForm(props: {
  readonly parameters: readonly ParameterDeclaration[];
  readonly context: WindowContext;
  readonly state: PageState;
  /** What was applied of each parameter, by name. */
  readonly applied: RecordsMeta["values"];
  readonly extents: Readonly<Record<string, string>> | undefined;
  readonly failureOf: (parameter: string) => string | null;
  readonly onGo: (state: PageState) => void;
}) {
  const { parameters, context, state, applied, extents, failureOf, onGo } = props;
  const requested = Object.fromEntries(
    // After a swap what took effect is not what was sent under the name.
    parameters.map((each) => {
      const value = takesDates(each) ? applied?.[each.name]?.[0] : undefined;
      return [each.name, value ?? valueOf(state, each.name)];
    }),
  );
  const basis = JSON.stringify(requested);
  const [draft, setDraft] = useState<{ readonly of: string; readonly values: typeof requested }>();
  const values = draft?.of === basis ? draft.values : requested;
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    const sent = parameters.map((each): [string, string] => {
      const value = values[each.name] ?? "";
      return [each.name, takesDates(each) ? valueToSend(value, each, context) : value];
    });
    onGo(withParameters(state, Object.fromEntries(sent)));
  };
  return (
    <form onSubmit={submit} className="flex flex-col items-start">
      {parameters.map((parameter) => (
        <ParameterField
          key={parameter.name}
          parameter={parameter}
          context={context}
          value={values[parameter.name] ?? ""}
          shown={extents?.[parameter.name]}
          failure={
            values[parameter.name] === valueOf(state, parameter.name)
              ? failureOf(parameter.name)
              : null
          }
          onChange={(value) =>
            setDraft({ of: basis, values: { ...values, [parameter.name]: value } })
          }
        />
      ))}
      <button type="submit" className="btn btn-primary btn-sm">
        Apply
      </button>
    </form>
  );
}

/** The values of a column, for a parameter that takes them or for a condition. */
function Choices(
  props: ColumnEditorProps & {
    readonly shown: ShownColumn | undefined;
    readonly parameters: readonly ParameterDeclaration[];
  },
) {
  const { listing, column, state, shown, parameters, onGo } = props;
  if (shown === undefined) return null;
  const isCompound = isCompoundOn(listing, column);
  if (shown.type === "boolean") {
    const requested = requestedYes(state, listing, column);
    const ways = [true, false].flatMap((yes) => {
      const narrowed = withYes(state, listing, column, yes);
      return narrowed === null ? [] : [{ yes, narrowed }];
    });
    if (ways.length === 0) return null;
    return (
      <div className="flex gap-2">
        {ways.map(({ yes, narrowed }) => (
          <button
            key={String(yes)}
            type="button"
            className="btn aria-pressed:font-bold aria-pressed:underline"
            aria-pressed={requested === yes}
            onClick={() => onGo(narrowed)}
          >
            {yes ? "yes" : "no"}
          </button>
        ))}
      </div>
    );
  }
  const parameter = parameters.find(({ type }) => type === "several" || type === "oneOf");
  const known = listing.shown.some(({ name }) => name === column);
  if (!known || (parameter === undefined && !isCompound)) return null;
  if (parameter === undefined) {
    if (shown.type !== "text") return null;
    const among = amongOf(state, listing, column);
    const { values, isNegated } = among;
    return (
      <ChoiceList
        key={`${values.join("\n")} ${isNegated}`}
        listing={listing}
        column={column}
        state={withoutColumn(state, listing, column)}
        chosen={values}
        several
        leavesOut={isNegated}
        takes={() => true}
        onChoose={(chosen) =>
          onGo(
            chosen.length === 0
              ? withoutColumn(state, listing, column)
              : withCondition(state, listing, { ...among, values: chosen }),
          )
        }
      />
    );
  }
  const chosen = requestedValues(parameter, state);
  return (
    <ChoiceList
      key={chosen.join("\n")}
      listing={listing}
      column={column}
      state={state}
      chosen={chosen}
      several={parameter.type === "several"}
      leavesOut={parameter.comparison === "noneOf" || parameter.comparison === "isNot"}
      takes={(value) => takesValue(parameter, value)}
      onChoose={(values) =>
        onGo(
          withParameters(state, {
            // None of a default is to be said, or it would be there once more.
            [parameter.name]: values.length === 0 && hasDefault(parameter) ? ".." : values,
            [`${parameter.name}.blank`]: [],
          }),
        )
      }
    />
  );
}

/** The values that a parameter asks for: those given, else those of its default. */
function requestedValues(parameter: ParameterDeclaration, state: PageState): readonly string[] {
  const given = state[parameter.name];
  if (given !== undefined) return given.filter((value) => value !== "..");
  return hasDefault(parameter) ? [parameter.default ?? []].flat().map(String) : [];
}

/** The condition on a column that lists values; one that lists none where there is no such one. */
function amongOf(state: PageState, listing: ListingDetails, column: string): TypedCondition {
  const conditions = (partsOf(state, listing) ?? []).map(typedCondition);
  const found = conditions.find((each) => each?.column === column && each.comparison === "among");
  return found ?? typed(column, "among", [], { caseSensitive: true });
}

/** The days that the parameters of a column keep, where they are one interval with two ends. */
function chosenDays({
  windows,
  column,
}: ColumnEditorProps): { readonly first: number; readonly last: number } | null {
  const strings = windows?.filter((each) => each.column === column) ?? [];
  const starts = strings.flatMap(({ startLocal }) => startLocal ?? []);
  const ends = strings.flatMap(({ endLocal }) => endLocal ?? []);
  const [start] = starts.toSorted().slice(-1);
  const [end] = ends.toSorted();
  if (start === undefined || end === undefined || start >= end) return null;
  const dayAt = (text: string) => Date.parse(`${text.slice(0, 10)}T00:00:00Z`) / 86_400_000;
  return { first: dayAt(start), last: dayAt(end) - (/T00:00(?::00)?$/.test(end) ? 1 : 0) };
}
