import type { NewListing, SourceColumn } from "@orisma/client";
import {
  COMPARISONS_OF,
  COMPARISON_KEEPS,
  DATE_COMPARISONS,
  parameterFor,
  defaultParameters,
  parameterName,
  type Catalogue,
  type Column,
  type DateComparison,
  type ParameterDeclaration,
} from "@orisma/core/internal";
import { X } from "lucide-react";

type NewParameter = NonNullable<NewListing["parameters"]>[number];

function catalogueOf(columns: readonly SourceColumn[]): Catalogue {
  return new Map(
    columns.map((column) => [
      column.name,
      column.type === "date"
        ? { name: column.name, type: column.type, kind: column.reading.kind }
        : { name: column.name, type: column.type },
    ]),
  );
}

/** The parameters of a listing that declares none. */
export function parametersByDefault(
  { mainDate = "", columns: shown = [] }: Pick<NewListing, "mainDate" | "columns">,
  columns: readonly SourceColumn[],
): readonly ParameterDeclaration[] {
  return defaultParameters(
    mainDate,
    shown.length > 0 ? shown : columns.map(({ name }) => name),
    catalogueOf(columns),
    new Set(columns.flatMap((each) => ("distinct" in each ? [each.name] : []))),
  );
}

/** What callers can send: named, on a column, compared in a way. */
export function Parameters(props: {
  readonly parameters: readonly NewParameter[] | undefined;
  readonly columns: readonly SourceColumn[];
  /** The columns that the listing shows; none for all. */
  readonly shown: readonly string[];
  readonly mainDate: string;
  readonly faultAt: (path: string) => string | undefined;
  readonly onChange: (parameters: readonly NewParameter[] | undefined) => void;
  readonly onSet: (index: number, field: string, value: unknown) => void;
}) {
  const { parameters, columns, shown, mainDate, faultAt, onChange, onSet } = props;
  const catalogue = catalogueOf(columns);
  const sensible = parametersByDefault({ mainDate, columns: shown }, columns);
  if (parameters === undefined) {
    return (
      <div className="sm:col-span-2">
        <h2 className="font-medium">Parameters</h2>
        <p>Default parameters: {sensible.map(sensibleInWords).join(", ")}.</p>
        <button
          type="button"
          className="btn btn-sm mt-2"
          onClick={() => onChange(sensible.map(withoutBlanks))}
        >
          Customise the parameters
        </button>
      </div>
    );
  }
  return (
    <div className="sm:col-span-2">
      <h2 className="font-medium">Parameters</h2>
      <ul>
        {parameters.map((parameter, index) => (
          <ParameterRow
            key={index}
            parameter={parameter}
            number={index + 1}
            faultAt={(field) =>
              faultAt(field === null ? `parameters.${index}` : `parameters.${index}.${field}`)
            }
            onSet={(field, value) => onSet(index, field, value)}
            onRemove={() => onChange(parameters.filter((_, other) => other !== index))}
          />
        ))}
      </ul>
      <label className="mt-2 flex items-center gap-2">
        Add a parameter for
        <select
          className="select select-sm w-auto"
          value=""
          onChange={(event) => {
            const column = catalogue.get(event.target.value);
            if (column === undefined) return;
            onChange([...parameters, parameterOn(column, parameters)]);
          }}
        >
          <option value="">a column</option>
          {columns.map((each) => (
            <option key={each.name}>{each.name}</option>
          ))}
        </select>
      </label>
    </div>
  );
}

function ParameterRow(props: {
  readonly parameter: NewParameter;
  /** Counted from 1. */
  readonly number: number;
  /** What is wrong with one of its settings, or with any. */
  readonly faultAt: (field: string | null) => string | undefined;
  readonly onSet: (field: string, value: unknown) => void;
  readonly onRemove: () => void;
}) {
  const { parameter, number, faultAt, onSet, onRemove } = props;
  const fault = faultAt(null);
  const isWrong = (field: string) => faultAt(field) !== undefined;
  return (
    <li className="grid grid-cols-[1fr_auto] items-start gap-2 border-b border-base-300 py-2">
      <div className="flex flex-wrap items-center gap-2">
        <input
          className="input input-sm w-28 font-mono aria-[invalid=true]:border-error"
          aria-invalid={isWrong("name")}
          aria-label={`Name of parameter ${number}`}
          value={parameter.name}
          onChange={(event) => onSet("name", event.target.value)}
        />
        <span>{parameter.column ?? parameter.type}</span>
        <select
          className="select select-sm w-auto aria-[invalid=true]:border-error"
          aria-invalid={isWrong("comparison")}
          aria-label={`How ${parameter.name} is compared`}
          value={parameter.comparison}
          onChange={(event) => onSet("comparison", event.target.value)}
        >
          {comparisonsOf(parameter).map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
        <select
          className="select select-sm w-auto"
          aria-label={`Blanks of ${parameter.name}`}
          value={parameter.blanks ?? "exclude"}
          onChange={(event) =>
            onSet("blanks", event.target.value === "exclude" ? undefined : event.target.value)
          }
        >
          <option value="exclude">exclude blanks</option>
          <option value="include">include blanks</option>
          <option value="only">only blanks</option>
        </select>
        <input
          className="input input-sm w-32 aria-[invalid=true]:border-error"
          aria-invalid={isWrong("default")}
          aria-label={`Default of ${parameter.name}`}
          placeholder="no default"
          value={String(parameter.default ?? "")}
          onChange={(event) => onSet("default", event.target.value || undefined)}
        />
        {isDateComparison(parameter.comparison) ? (
          <p className="w-full text-sm opacity-80">
            includes {COMPARISON_KEEPS[parameter.comparison]}
          </p>
        ) : null}
        {fault === undefined ? null : <p className="w-full text-sm text-error">{fault}</p>}
      </div>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label={`Remove parameter ${parameter.name}`}
        onClick={onRemove}
      >
        <X className="size-4" aria-hidden />
      </button>
    </li>
  );
}

/** Its name, and the column where that is called otherwise. */
function sensibleInWords({ name, label }: ParameterDeclaration): string {
  return label === undefined ? name : `${name} (${label})`;
}

/** A sensible parameter on a column, by a name that is not taken yet. */
function parameterOn(column: Column, taken: readonly NewParameter[]): NewParameter {
  const name = parameterName(
    column.name,
    taken.map((each) => each.name),
  );
  return withoutBlanks(parameterFor(column, name));
}

/** Blanks are omitted by default, which needs no word. */
function withoutBlanks({ blanks: _blanks, ...parameter }: ParameterDeclaration): NewParameter {
  return parameter;
}

/** Values are compared by words of their own. */
function isDateComparison(comparison: string): comparison is DateComparison {
  return (DATE_COMPARISONS as readonly string[]).includes(comparison);
}

function comparisonsOf(parameter: NewParameter): readonly string[] {
  // A file can say any type.
  const known: Readonly<Record<string, readonly string[] | undefined>> = COMPARISONS_OF;
  return known[parameter.type] ?? [parameter.comparison];
}
