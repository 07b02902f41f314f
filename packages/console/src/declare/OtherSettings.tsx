import type { RenderedFault } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { useId } from "react";
import { service } from "../service/service.js";

/** A JSON Schema of a setting, as far as fields are made of it. */
interface SettingSchema {
  readonly type?: string;
  readonly title?: string;
  readonly description?: string;
  readonly enum?: readonly string[];
  readonly anyOf?: readonly SettingSchema[];
  readonly items?: SettingSchema;
  readonly properties?: Readonly<Record<string, SettingSchema>>;
}

type Path = readonly string[];

interface SettingProps {
  readonly path: Path;
  readonly schema: SettingSchema;
  readonly value: unknown;
  readonly faults: readonly RenderedFault[];
  readonly onSet: (path: Path, value: unknown) => void;
}

/**
 * A field for each setting of a declaration that has none of its own in the form, made of the schema of
 * the declaration: a setting that is added there is here at once.
 */
export function OtherSettings(props: {
  readonly declaration: Readonly<Record<string, unknown>>;
  /** The settings that have a field of their own, by path. */
  readonly without: ReadonlySet<string>;
  readonly faults: readonly RenderedFault[];
  readonly onSet: SettingProps["onSet"];
}) {
  const { declaration, without, faults, onSet } = props;
  const schema = useQuery({
    queryKey: ["listing-schema"],
    queryFn: async () => (await service.listingSchema()) as SettingSchema,
    staleTime: Infinity,
  });
  const settings = Object.entries(schema.data?.properties ?? {}).filter(
    ([name]) => !without.has(name),
  );
  const inFile = settings.filter(([, each]) => !hasField(each));
  return (
    <details className="sm:col-span-2">
      <summary className="cursor-pointer font-medium">More settings</summary>
      <div className="mt-3 grid gap-4 sm:grid-cols-2">
        {settings.map(([name, each]) => (
          <Setting
            key={name}
            path={[name]}
            schema={withoutPaths(each, name, without)}
            value={declaration[name]}
            faults={faults}
            onSet={onSet}
          />
        ))}
      </div>
      {inFile.length === 0 ? null : (
        <p className="mt-3 text-sm opacity-80">
          Only in the file: {inFile.map(([name]) => name).join(", ")}.
        </p>
      )}
    </details>
  );
}

/** A setting whose parts are the others than those that have a field of their own. */
function withoutPaths(
  schema: SettingSchema,
  name: string,
  without: ReadonlySet<string>,
): SettingSchema {
  if (schema.properties === undefined) return schema;
  const rest = Object.entries(schema.properties).filter(
    ([each]) => !without.has(`${name}.${each}`),
  );
  return { ...schema, properties: Object.fromEntries(rest) };
}

/** Settings by column have no field: the form cannot know for which columns they are wanted. */
function hasField({ type, properties, items }: SettingSchema): boolean {
  if (type === "object") return properties !== undefined;
  return type !== "array" || items?.type === "string";
}

function Setting(props: SettingProps) {
  const { path, schema, value, faults, onSet } = props;
  const { properties, description } = schema;
  const id = useId();
  const name = path.at(-1) ?? "";
  const label = schema.title ?? name;
  if (!hasField(schema)) return null;
  if (properties !== undefined) {
    const held = typeof value === "object" && value !== null ? value : {};
    return (
      <fieldset className="sm:col-span-2">
        <legend className="mb-1 w-full border-b border-base-300 pb-1 font-semibold">{label}</legend>
        <div className="grid gap-4 sm:grid-cols-2">
          {Object.entries(properties).map(([each, part]) => (
            <Setting
              {...props}
              key={each}
              path={[...path, each]}
              schema={part}
              value={(held as Readonly<Record<string, unknown>>)[each]}
            />
          ))}
        </div>
      </fieldset>
    );
  }
  const fault = faults.find((each) => each.path === path.join("."))?.message;
  const choices = choicesOf(schema);
  const set = (text: string) => onSet(path, valueOf(text, schema));
  return (
    <label className="flex min-w-0 flex-col font-medium">
      {label}
      {choices === null ? (
        <input
          className="input w-full font-normal"
          type={schema.type === "integer" || schema.type === "number" ? "number" : "text"}
          value={textOfSetting(value)}
          placeholder="by default"
          aria-describedby={id}
          onChange={(event) => set(event.target.value)}
        />
      ) : (
        <select
          className="select w-full font-normal"
          value={textOfSetting(value)}
          aria-describedby={id}
          onChange={(event) => set(event.target.value)}
        >
          <option value="">by default</option>
          {choices.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
      )}
      <span id={id} className="text-sm font-normal">
        {fault === undefined ? (
          <span className="opacity-80">{description}</span>
        ) : (
          <span className="text-error">{fault}</span>
        )}
      </span>
    </label>
  );
}

/** What can be picked; null where it is typed. */
function choicesOf({ enum: values, type }: SettingSchema): readonly string[] | null {
  if (values !== undefined) return values;
  return type === "boolean" ? ["yes", "no"] : null;
}

/** A setting as it stands in its field. */
function textOfSetting(value: unknown): string {
  if (value === undefined || value === null) return "";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (Array.isArray(value)) return value.join(", ");
  return typeof value === "string" ? value : JSON.stringify(value);
}

/** What a field says; undefined for the default. */
function valueOf(text: string, schema: SettingSchema): unknown {
  if (text === "") return undefined;
  const takes = (type: string) =>
    schema.type === type || (schema.anyOf ?? []).some((each) => each.type === type);
  if (takes("boolean") && ["yes", "no"].includes(text)) return text === "yes";
  if (takes("array")) return text.split(",").map((each) => each.trim());
  return takes("integer") || takes("number") ? Number(text) : text;
}
