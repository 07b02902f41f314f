import type { NewListing, SourceColumn, SourceDescription } from "@orisma/client";
import { editedText } from "@orisma/client/declaration";
import {
  COMPARISONS_OF,
  COMPARISON_KEEPS,
  DATE_COMPARISONS,
  parameterFor,
  sensibleParameters,
  parameterName,
  type Catalogue,
  type Column,
  type DateComparison,
  type ParameterDeclaration,
  type RenderedFault,
} from "@orisma/core/internal";
import { X } from "lucide-react";
import { useId, type ReactNode } from "react";
import { OtherSettings } from "./OtherSettings.js";

type NewParameter = NonNullable<NewListing["parameters"]>[number];

export interface DeclarationFormProps {
  readonly text: string;
  readonly name: string;
  readonly declaration: NewListing;
  readonly sources: readonly SourceDescription[];
  /** The source that is picked; nothing where there is none of its name. */
  readonly source: SourceDescription | undefined;
  readonly faults: readonly RenderedFault[];
  readonly onText: (text: string) => void;
}

/** The settings for which the form has a field of its own; all others are made of the schema. */
const OWN_FIELDS: ReadonlySet<string> = new Set([
  "$schema",
  "name",
  "title",
  "source",
  "mainDate",
  "zone",
  "order.default",
  "order.allowed",
  "page.size",
  "filter",
  "fixed",
  "columns",
  "parameters",
]);

const ZONES = Intl.supportedValuesOf("timeZone");

/** The declaration as a form: each act changes the one place of the file that it speaks of. */
export function DeclarationForm(props: DeclarationFormProps) {
  const { text, name, declaration, sources, source, faults, onText } = props;
  const set = (path: readonly (string | number)[], value: unknown) =>
    onText(editedText(text, path, value));
  const faultAt = (path: string) =>
    faults.find((each) => each.path === path || each.path?.startsWith(`${path}.`) === true)
      ?.message;
  const columns = source?.columns ?? [];
  const dates = columns.filter(({ type }) => type === "date");
  const { columns: shown = [], parameters, order, page, filter, fixed } = declaration;
  const id = useId();
  return (
    <form className="grid gap-4 sm:grid-cols-2" onSubmit={(event) => event.preventDefault()}>
      <Field label="Name, as callers write it" fault={faultAt("name")}>
        <input
          className="input w-full font-mono"
          value={name}
          spellCheck={false}
          onChange={(event) => set(["name"], event.target.value)}
        />
      </Field>
      <Field label="Title, as people read it" fault={faultAt("title")}>
        <input
          className="input w-full"
          value={declaration.title ?? ""}
          onChange={(event) => set(["title"], event.target.value || undefined)}
        />
      </Field>
      <Field label="Source" fault={faultAt("source")}>
        <select
          className="select w-full"
          value={declaration.source}
          onChange={(event) => set(["source"], event.target.value)}
        >
          {source === undefined ? <option>{declaration.source}</option> : null}
          {sources.map((each) => (
            <option key={each.name}>{each.name}</option>
          ))}
        </select>
      </Field>
      <Field label="Main date" fault={faultAt("mainDate")}>
        <select
          className="select w-full"
          value={declaration.mainDate ?? ""}
          onChange={(event) => set(["mainDate"], event.target.value)}
        >
          {dates.some((each) => each.name === declaration.mainDate) ? null : (
            <option>{declaration.mainDate ?? ""}</option>
          )}
          {dates.map((each) => (
            <option key={each.name}>{each.name}</option>
          ))}
        </select>
      </Field>
      <Field label="Zone, in which days begin" fault={faultAt("zone")}>
        <input
          className="input w-full"
          list={`${id}-zones`}
          value={declaration.zone ?? ""}
          placeholder="UTC"
          onChange={(event) => set(["zone"], event.target.value || undefined)}
        />
        <datalist id={`${id}-zones`}>
          {ZONES.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </datalist>
      </Field>
      <Field label="Order, unless asked otherwise" fault={faultAt("order")}>
        <select
          className="select w-full"
          value={order?.default ?? ""}
          onChange={(event) => {
            const { value } = event.target;
            if (value === "") {
              set(["order"], undefined);
              return;
            }
            const column = value.replace(/^-/, "");
            const allowed = [...new Set([...(order?.allowed ?? []), column])];
            set(["order"], { ...order, allowed, default: value });
          }}
        >
          <option value="">by the main date</option>
          {columns.flatMap((each) => [
            <option key={each.name} value={each.name}>
              {each.name}, ascending
            </option>,
            <option key={`-${each.name}`} value={`-${each.name}`}>
              {each.name}, descending
            </option>,
          ])}
        </select>
      </Field>
      <Field label="Records on a page" fault={faultAt("page")}>
        <input
          type="number"
          min={1}
          className="input w-full"
          value={page?.size ?? ""}
          placeholder="50"
          onChange={(event) =>
            event.target.value === ""
              ? set(["page"], undefined)
              : set(["page"], { ...page, size: Number(event.target.value) })
          }
        />
      </Field>
      <label className="flex items-center gap-2 self-center">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={filter !== undefined}
          onChange={(event) =>
            set(["filter"], event.target.checked ? { columns: "all" } : undefined)
          }
        />
        Any column can be asked for, in groups of conditions too
      </label>
      <div className="sm:col-span-2">
        <Field label="A condition that no caller can change, in CQL2" fault={faultAt("fixed")}>
          <input
            className="input w-full font-mono"
            value={fixed ?? ""}
            placeholder="none"
            spellCheck={false}
            onChange={(event) => set(["fixed"], event.target.value || undefined)}
          />
        </Field>
      </div>
      <fieldset className="sm:col-span-2">
        <legend className="font-medium">Columns shown, all unless picked</legend>
        <span className="flex flex-wrap gap-x-6 gap-y-1">
          {columns.map((each) => (
            <label key={each.name} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={shown.includes(each.name)}
                onChange={(event) => {
                  const next = event.target.checked
                    ? [...shown, each.name]
                    : shown.filter((other) => other !== each.name);
                  set(["columns"], next.length === 0 ? undefined : next);
                }}
              />
              {each.name}
            </label>
          ))}
        </span>
      </fieldset>
      <Parameters
        parameters={parameters}
        columns={columns}
        mainDate={declaration.mainDate ?? ""}
        faultAt={faultAt}
        onChange={(next) => set(["parameters"], next)}
        onSet={(index, field, value) => set(["parameters", index, field], value)}
      />
      <OtherSettings declaration={declaration} without={OWN_FIELDS} faults={faults} onSet={set} />
    </form>
  );
}

function Field(props: {
  readonly label: string;
  readonly fault: string | undefined;
  readonly children: ReactNode;
}) {
  return (
    <label className="flex min-w-0 flex-col font-medium [&_input]:font-normal [&_select]:font-normal">
      {props.label}
      {props.children}
      {props.fault === undefined ? null : (
        <span className="text-sm font-normal text-error">{props.fault}</span>
      )}
    </label>
  );
}

/** What callers can send: named, on a column, compared in a way. */
function Parameters(props: {
  readonly parameters: readonly NewParameter[] | undefined;
  readonly columns: readonly SourceColumn[];
  readonly mainDate: string;
  readonly faultAt: (path: string) => string | undefined;
  readonly onChange: (parameters: readonly NewParameter[] | undefined) => void;
  readonly onSet: (index: number, field: string, value: unknown) => void;
}) {
  const { parameters, columns, mainDate, faultAt, onChange, onSet } = props;
  const catalogue: Catalogue = new Map(
    columns.map((column) => [
      column.name,
      column.type === "date"
        ? { name: column.name, type: column.type, kind: column.reading.kind }
        : { name: column.name, type: column.type },
    ]),
  );
  const sensible = sensibleParameters(
    mainDate,
    columns.map(({ name }) => name),
    catalogue,
  );
  if (parameters === undefined) {
    return (
      <div className="sm:col-span-2">
        <h2 className="font-medium">Parameters</h2>
        <p>As is sensible: {sensible.map(sensibleInWords).join(", ")}.</p>
        <button
          type="button"
          className="btn btn-sm mt-2"
          onClick={() => onChange(sensible.map(withoutBlanks))}
        >
          Write them down, and change them
        </button>
      </div>
    );
  }
  return (
    <div className="sm:col-span-2">
      <h2 className="font-medium">Parameters</h2>
      <ul>
        {parameters.map((parameter, index) => (
          <li
            key={index}
            className="grid grid-cols-[1fr_auto] items-start gap-2 border-b border-base-300 py-2"
          >
            <div className="flex flex-wrap items-center gap-2">
              <input
                className="input input-sm w-28 font-mono"
                aria-label={`Name of parameter ${index + 1}`}
                value={parameter.name}
                onChange={(event) => onSet(index, "name", event.target.value)}
              />
              <span>{parameter.column ?? parameter.type}</span>
              <select
                className="select select-sm w-auto"
                aria-label={`How ${parameter.name} is compared`}
                value={parameter.comparison}
                onChange={(event) => onSet(index, "comparison", event.target.value)}
              >
                {comparisonsOf(parameter).map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </select>
              <select
                className="select select-sm w-auto"
                aria-label={`Blanks of ${parameter.name}`}
                value={parameter.blanks ?? "leave"}
                onChange={(event) =>
                  onSet(
                    index,
                    "blanks",
                    event.target.value === "leave" ? undefined : event.target.value,
                  )
                }
              >
                <option value="leave">blanks out</option>
                <option value="keep">blanks kept</option>
                <option value="only">only blanks</option>
              </select>
              <input
                className="input input-sm w-32"
                aria-label={`Default of ${parameter.name}`}
                placeholder="no default"
                value={String(parameter.default ?? "")}
                onChange={(event) => onSet(index, "default", event.target.value || undefined)}
              />
              {isDateComparison(parameter.comparison) ? (
                <p className="w-full text-sm opacity-80">
                  keeps {COMPARISON_KEEPS[parameter.comparison]}, X being what is sent
                </p>
              ) : null}
              {faultAt(`parameters.${index}`) === undefined ? null : (
                <p className="w-full text-sm text-error">{faultAt(`parameters.${index}`)}</p>
              )}
            </div>
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label={`Take the parameter ${parameter.name} away`}
              onClick={() => onChange(parameters.filter((_, other) => other !== index))}
            >
              <X className="size-4" aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <label className="mt-2 flex items-center gap-2">
        Add one for
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

/** Blanks are left out unless told, which needs no word. */
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
