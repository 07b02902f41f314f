import type { NewListing, SourceColumn, SourceDescription } from "@orisma/client";
import { editedText } from "@orisma/client/declaration";
import type { RenderedFault } from "@orisma/core/internal";
import { useId } from "react";
import { Field } from "./Field.js";
import { OtherSettings } from "./OtherSettings.js";
import { Parameters } from "./Parameters.js";

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
  "fixedFilter",
  "columns",
  "parameters",
]);

const ZONES = Intl.supportedValuesOf("timeZone");

/** The declaration as a form: each act changes the one place of the file that it speaks of. */
export function DeclarationForm(props: DeclarationFormProps) {
  const { text, name, declaration, source, faults, onText } = props;
  const set = (path: readonly (string | number)[], value: unknown) =>
    onText(editedText(text, path, value));
  const faultAt = (path: string) =>
    faults.find((each) => each.path === path || each.path?.startsWith(`${path}.`) === true)
      ?.message;
  const columns = source?.columns ?? [];
  const { columns: shown = [], parameters, order, page, filter, fixedFilter } = declaration;
  return (
    <form className="grid gap-4 sm:grid-cols-2" onSubmit={(event) => event.preventDefault()}>
      <Field label="Name in URLs" fault={faultAt("name")}>
        <input
          className="input w-full font-mono"
          value={name}
          spellCheck={false}
          onChange={(event) => set(["name"], event.target.value)}
        />
      </Field>
      <Field label="Title" fault={faultAt("title")}>
        <input
          className="input w-full"
          value={declaration.title ?? ""}
          onChange={(event) => set(["title"], event.target.value || undefined)}
        />
      </Field>
      <SourceFields {...props} faultAt={faultAt} set={set} />
      <ZoneField zone={declaration.zone ?? ""} fault={faultAt("zone")} set={set} />
      <OrderField order={order} columns={columns} fault={faultAt("order")} set={set} />
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
        <span>
          Callers may filter by any column, in CQL2
          {faultAt("filter") === undefined ? null : (
            <span className="block text-sm text-error">{faultAt("filter")}</span>
          )}
        </span>
      </label>
      <div className="sm:col-span-2">
        <Field
          label="Fixed filter, in CQL2: no caller can change it"
          fault={faultAt("fixedFilter")}
        >
          <input
            className="input w-full font-mono"
            value={fixedFilter ?? ""}
            placeholder="none"
            spellCheck={false}
            onChange={(event) => set(["fixedFilter"], event.target.value || undefined)}
          />
        </Field>
      </div>
      <ColumnsField shown={shown} columns={columns} fault={faultAt("columns")} set={set} />
      <Parameters
        parameters={parameters}
        columns={columns}
        shown={shown}
        mainDate={declaration.mainDate ?? ""}
        faultAt={faultAt}
        onChange={(next) => set(["parameters"], next)}
        onSet={(index, field, value) => set(["parameters", index, field], value)}
      />
      <OtherSettings declaration={declaration} without={OWN_FIELDS} faults={faults} onSet={set} />
    </form>
  );
}

/** Changes the one place of the file that a path leads to. */
type SetPlace = (path: readonly (string | number)[], value: unknown) => void;

function SourceFields(
  props: Pick<DeclarationFormProps, "declaration" | "sources" | "source"> & {
    readonly faultAt: (path: string) => string | undefined;
    readonly set: SetPlace;
  },
) {
  const { declaration, sources, source, faultAt, set } = props;
  const dates = (source?.columns ?? []).filter(({ type }) => type === "date");
  return (
    <>
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
    </>
  );
}

function ZoneField(props: {
  readonly zone: string;
  readonly fault: string | undefined;
  readonly set: SetPlace;
}) {
  const { zone, fault, set } = props;
  const id = useId();
  return (
    <Field label="Time zone of days" fault={fault}>
      <input
        className="input w-full"
        list={`${id}-zones`}
        value={zone}
        placeholder="UTC"
        onChange={(event) => set(["zone"], event.target.value || undefined)}
      />
      <datalist id={`${id}-zones`}>
        {ZONES.map((each) => (
          <option key={each}>{each}</option>
        ))}
      </datalist>
    </Field>
  );
}

function OrderField(props: {
  readonly order: NewListing["order"];
  readonly columns: readonly SourceColumn[];
  readonly fault: string | undefined;
  readonly set: SetPlace;
}) {
  const { order, columns, fault, set } = props;
  return (
    <Field label="Default order" fault={fault}>
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
  );
}

function ColumnsField(props: {
  readonly shown: readonly string[];
  readonly columns: readonly SourceColumn[];
  readonly fault: string | undefined;
  readonly set: SetPlace;
}) {
  const { shown, columns, fault, set } = props;
  return (
    <fieldset className="sm:col-span-2">
      <legend className="font-medium">Columns (all by default)</legend>
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
      {fault === undefined ? null : <p className="text-sm text-error">{fault}</p>}
    </fieldset>
  );
}
