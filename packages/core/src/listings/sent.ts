import {
  failure,
  fault,
  withLocation,
  success,
  type Notice,
  type Result,
} from "../faults/index.js";
import type { Column } from "../filters/index.js";
import type { CompiledDateForm } from "../reading/index.js";
import {
  DATE_FIELDS,
  dateOfFields,
  readGiven,
  timeOfDayIn,
  withMeant,
  type Part,
  type SentField,
  type Window,
  type WindowContext,
  type WindowsByName,
} from "../windows/index.js";
import type { DateParameter } from "./declaration.js";

/** What a caller sent: each name with its values, in the order of sending. */
export type SentParameters = ReadonlyMap<string, readonly string[]>;

/** A parameter of dates as it was sent: one date, or a window. */
export interface SentDates {
  readonly declaration: DateParameter;
  /** The text as it came. */
  readonly raw: string;
  readonly value:
    | { readonly kind: "part"; readonly part: Part }
    | { readonly kind: "window"; readonly window: Window };
  readonly notices: readonly Notice[];
}

/** What the value of a parameter is read with. */
export interface ValueContext {
  readonly column: Column | undefined;
  readonly form: CompiledDateForm | undefined;
  readonly named: WindowsByName | undefined;
  readonly window: WindowContext;
}

/**
 * Reads one parameter of dates; null where it is not given or open. Its faults name the parameter
 * that was sent.
 */
export function readDates(
  declaration: DateParameter,
  sent: SentParameters,
  { column, form, named, window }: ValueContext,
): Result<SentDates | null> {
  const raw = rawValue(declaration, sent);
  if (!raw.ok) return raw;
  if (raw.value === null) return success(null);
  const { name: parameter, type } = declaration;
  const place = {
    parameter,
    value: raw.value,
    ...(form === undefined ? {} : { declaredForm: form.name }),
  };
  const known = type === "window" ? named?.get(raw.value.trim().toLowerCase()) : undefined;
  const given =
    known === undefined
      ? readGiven(raw.value, { parameter, type, ...(form === undefined ? {} : { form }) })
      : success({ kind: "window" as const, window: known, notices: [] });
  if (!given.ok) {
    const wanted = type === "window" ? "window" : "date";
    const faults = withMeant(given.faults, raw.value, wanted, window);
    return failure(...faults.map((each) => withLocation(each, place)));
  }
  const value = given.value;
  if (value.kind === "notGiven" || value.kind === "open") return success(null);
  const found = { declaration, raw: raw.value, notices: value.notices };
  if (value.kind === "part") return success({ ...found, value });
  const isOfDays = column?.type === "date" && column.kind === "date";
  const finer = isOfDays ? timeOfDayIn(value.window) : null;
  if (finer === null) return success({ ...found, value });
  return failure(fault("column.finerThanDay", { name: column?.name ?? "", text: finer }, place));
}

/** The text of a parameter, put together where its fields came apart. */
function rawValue({ name, fields }: DateParameter, sent: SentParameters): Result<string | null> {
  // Sent more than once is a fault of its own, and none of its values is looked at.
  const one = (parameter: string) => {
    const values = sent.get(parameter) ?? [];
    return values.length === 1 ? (values[0] ?? null) : null;
  };
  const whole = one(name);
  if (fields === undefined) return success(whole);
  const parts: Partial<Record<(typeof DATE_FIELDS)[number], SentField>> = {};
  for (const field of DATE_FIELDS) {
    const parameter = fields[field];
    const raw = parameter === undefined ? null : one(parameter);
    if (parameter !== undefined && raw !== null) parts[field] = { parameter, raw };
  }
  const joined = dateOfFields(parts);
  if (!joined.ok || whole === null || whole.trim() === "") return joined;
  if (joined.value === null) return success(whole);
  const second = fields.year ?? name;
  const place = { parameter: second, value: joined.value };
  return failure(fault("parameter.conflict", { first: name, second }, place));
}
