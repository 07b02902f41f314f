import type { Interval, Span } from "../calendar/index.js";
import { fault, failure, placed, success, type Notice, type Result } from "../faults/index.js";
import {
  intervalOf,
  recurringStretches,
  type Column,
  type RecurringStretch,
} from "../filters/index.js";
import type { CompiledDateForm } from "../reading/index.js";
import {
  DATE_FIELDS,
  dateOfFields,
  partText,
  partsOf,
  readGiven,
  resolveExactly,
  resolvePart,
  timeOfDayIn,
  windowText,
  type Given,
  type Part,
  type SentField,
  type Window,
  type WindowContext,
} from "../windows/index.js";
import type { DateParameter } from "./declaration.js";

/** What a caller sent: each name with its values, in the order of sending. */
export type SentParameters = ReadonlyMap<string, readonly string[]>;

/** The date or window that took effect, and what it covers. */
export type EffectiveValue =
  | {
      readonly kind: "part";
      readonly part: Part;
      /** Null where it covers nothing. */
      readonly span: Span | null;
      readonly isAbsolute: boolean;
      readonly notices: readonly Notice[];
    }
  | {
      readonly kind: "window";
      readonly window: Window;
      readonly intervals: readonly Interval[];
      readonly recurring: readonly RecurringStretch[];
      readonly notices: readonly Notice[];
    };

/** One parameter as it took effect. */
export interface EffectiveParameter {
  readonly declaration: DateParameter;
  /** The text as it came. */
  readonly raw: string;
  /** What took effect, which after a swap is not what came under this name. */
  readonly value: EffectiveValue;
}

/** What the value of a parameter is read with. */
export interface ValueContext {
  readonly window: WindowContext;
  readonly column: Column | undefined;
  readonly form: CompiledDateForm | undefined;
}

/**
 * Reads and resolves one parameter; null where it is not given or open. Its faults name the
 * parameter that was sent.
 */
export function effectiveParameter(
  declaration: DateParameter,
  sent: SentParameters,
  context: ValueContext,
): Result<EffectiveParameter | null> {
  const raw = rawValue(declaration, sent);
  if (!raw.ok) return raw;
  if (raw.value === null) return success(null);
  const place = { parameter: declaration.name, value: raw.value };
  const given = readGiven(raw.value, {
    parameter: declaration.name,
    type: declaration.type,
    ...(context.form === undefined ? {} : { form: context.form }),
  });
  if (!given.ok) return failure(...given.faults.map((each) => placed(each, place)));
  const value = valueOf(given.value, context);
  if (value === null) return success(null);
  if (!value.ok) return failure(...value.faults.map((each) => placed(each, place)));
  return success({ declaration, raw: raw.value, value: value.value });
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

function valueOf(given: Given, { window, column }: ValueContext): Result<EffectiveValue> | null {
  switch (given.kind) {
    case "notGiven":
    case "open":
      return null;
    case "part": {
      const { part } = given;
      const resolved = resolvePart(part, window);
      if (!resolved.ok) return resolved;
      const notices = [...given.notices, ...resolved.value.notices];
      return success({ ...resolved.value, kind: "part", part, notices });
    }
    case "window": {
      const finer = window.wholeDays === true ? timeOfDayIn(given.window) : null;
      if (finer !== null) {
        const name = column?.name ?? "";
        return failure(fault("column.finerThanDay", { name, text: finer }));
      }
      const resolved = resolveExactly(given.window, window);
      if (!resolved.ok) return resolved;
      return success({
        kind: "window",
        window: given.window,
        intervals: resolved.value.intervals,
        recurring: recurringStretches(resolved.value.recurring, window),
        notices: [...given.notices, ...resolved.value.notices],
      });
    }
  }
}

/** The one text of what took effect. */
export function valueText(value: EffectiveValue): string {
  return value.kind === "part"
    ? partText(value.part.base, value.part.shifts)
    : windowText(value.window);
}

/** The stretches that a parameter alone stands for, before any is turned round. */
export function stretchesOf({
  declaration: { comparison },
  value,
}: EffectiveParameter): readonly Interval[] {
  if (value.kind === "window") return value.intervals;
  return value.span === null ? [] : [intervalOf(comparison, value.span)];
}

/** Whether what a value covers depends on when it is asked for, and whether it moves all the time. */
export function movement(value: EffectiveValue, wholeDays: boolean): "never" | "steps" | "always" {
  const parts =
    value.kind === "part"
      ? [value.part]
      : value.window.alternatives.flatMap(({ range }) => partsOf(range));
  if (!wholeDays && parts.some(({ base }) => base.kind === "now")) return "always";
  return parts.every(({ base }) => base.kind === "written") ? "never" : "steps";
}
