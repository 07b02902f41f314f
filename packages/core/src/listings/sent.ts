import {
  failure,
  fault,
  withLocation,
  success,
  type Failure,
  type Notice,
  type Result,
} from "../faults/index.js";
import type { Column } from "../filters/index.js";
import type { CompiledDateForm } from "../reading/index.js";
import {
  DATE_FIELDS,
  dateOfFields,
  readGiven,
  meaningOf,
  timeOfDayIn,
  withMeant,
  type Given,
  type GivenInput,
  type Part,
  type PhraseContext,
  type SentField,
  type Window,
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
  /** Whether it was written as people write it, and so may mean another date on another day. */
  readonly isPhrase: boolean;
  readonly notices: readonly Notice[];
}

/** What the value of a parameter is read with. */
export interface ValueContext {
  readonly column: Column | undefined;
  readonly form: CompiledDateForm | undefined;
  readonly named: WindowsByName | undefined;
  /** With the language of phrases, where there is one beside English. */
  readonly window: PhraseContext;
  /** Whether the listing takes phrases. */
  readonly phrases: boolean;
}

/**
 * Reads one parameter of dates; null where it is not given or open. Its faults name the parameter
 * that was sent.
 */
export function readDates(
  declaration: DateParameter,
  sent: SentParameters,
  context: ValueContext,
): Result<SentDates | null> {
  const { column, form, named } = context;
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
  const phrase = given.ok ? given : readAsPhrase(raw.value, { parameter, type }, given, context);
  if (!phrase.ok) return failure(...phrase.faults.map((each) => withLocation(each, place)));
  const { value } = phrase;
  if (value.kind === "notGiven" || value.kind === "open") return success(null);
  const found = { declaration, raw: raw.value, isPhrase: !given.ok, notices: value.notices };
  if (value.kind === "part") return success({ ...found, value });
  const isOfDays = column?.type === "date" && column.kind === "date";
  const finer = isOfDays ? timeOfDayIn(value.window) : null;
  if (finer === null) return success({ ...found, value });
  return failure(fault("column.finerThanDay", { name: column?.name ?? "", text: finer }, place));
}

/**
 * Reads as a phrase what was refused, where the listing takes phrases; elsewhere the refusal says what was probably
 * meant. Fails with that refusal, with `phrase.ambiguous`, and the other faults of a phrase.
 */
function readAsPhrase(
  raw: string,
  input: GivenInput,
  refused: Failure,
  { phrases, window }: ValueContext,
): Result<Given> {
  if (!phrases) {
    const wanted = input.type === "window" ? "window" : "date";
    return failure(...withMeant(refused.faults, raw, wanted, window));
  }
  const read = meaningOf(raw, refused, window);
  return read.ok ? readGiven(read.value, input) : read;
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
