import {
  failure,
  fault,
  nearest,
  notice,
  success,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import {
  compareDecimals,
  decimalOf,
  patternOf,
  type BlankPolicy,
  type Catalogue,
  type Column,
  type Filter,
  type NumberBound,
  type Side,
} from "../filters/index.js";
import { readBoolean } from "../reading/index.js";
import type { ListingDeclaration, ValueParameter } from "./declaration.js";
import type { SentParameters } from "./sent.js";
import { listFault, repeatedParameter, valuesWithCommas } from "./value-list.js";

/** One parameter of values as it took effect. */
export interface EffectiveValues {
  readonly declaration: ValueParameter;
  /** The strings as they came. */
  readonly raw: readonly string[];
  /** What took effect, in one spelling. */
  readonly values: readonly string[];
}

/** One condition on values: one parameter, or the two ends of a pair. */
export interface ValueCondition {
  readonly parameters: readonly EffectiveValues[];
  readonly filter: Filter;
}

export interface PlannedValues {
  readonly condition: ValueCondition | null;
  readonly notices: readonly Notice[];
}

/** What numbers and strings are read against. */
export interface ValueContext {
  readonly columns: Catalogue;
  readonly listing: ListingDeclaration;
}

/**
 * Works out the condition of a parameter of values, or of the two ends of a pair, under a blank
 * policy; no condition where nothing was given.
 *
 * Fails with `number.form`, `number.scale`, `range.form`, `range.reversed`, `boolean.form`, and
 * `parameter.choice` for what is none of the declared values.
 */
export function planValues(
  group: readonly ValueParameter[],
  sent: SentParameters,
  blanks: BlankPolicy,
  context: ValueContext,
): Result<PlannedValues> {
  const faults: Fault[] = [];
  const read = group.flatMap((declaration) => {
    const found = readOne(declaration, sent, context);
    if (found.ok) return found.value === null ? [] : [found.value];
    faults.push(...found.faults);
    return [];
  });
  if (faults.length > 0) return failure(...faults);
  const [first, second] = read;
  if (first === undefined) {
    const [declaration] = group;
    if (blanks !== "only" || declaration === undefined) {
      return success({ condition: null, notices: [] });
    }
    const filter = columnsOf(declaration).map((column): Filter => ({
      kind: "state",
      column,
      state: "blank",
    }));
    return success({
      condition: { parameters: [], filter: combined("all", filter) },
      notices: [],
    });
  }
  if (second === undefined) {
    const condition = { parameters: read, filter: filterOf(first, blanks, context) };
    return success({ condition, notices: first.notices });
  }
  return pairOf(first, second, blanks, context);
}

/** A value that was read, with the bounds that it stands for where it is a number. */
interface ReadValue extends EffectiveValues {
  readonly bounds: { readonly least: NumberBound | null; readonly most: NumberBound | null } | null;
  readonly notices: readonly Notice[];
}

function readOne(
  declaration: ValueParameter,
  sent: SentParameters,
  context: ValueContext,
): Result<ReadValue | null> {
  const { name, type } = declaration;
  const raw = (sent.get(name) ?? []).filter((text) => !isExcluded(text, type));
  if (raw.length === 0) return success(null);
  const faults: Fault[] = [];
  const values = raw.flatMap((text) => {
    const found = readText(text, declaration, context);
    if (found.ok) return [found.value];
    const isValue = (each: string) => readText(each, declaration, context).ok;
    const list = type === "several" ? listFault(name, text, isValue) : null;
    if (list !== null) {
      faults.push(list);
      return [];
    }
    faults.push(...found.faults.map((each) => ({ ...each, parameter: name, value: text })));
    return [];
  });
  if (faults.length > 0) return failure(...faults);
  const [first] = values;
  return success({
    declaration,
    raw,
    values: values.map(({ text }) => text),
    bounds: first?.bounds ?? null,
    notices: values.flatMap(({ notices = [] }) => notices),
  });
}

/** Nothing, or an explicit `..`; text can be any other word. */
function isExcluded(text: string, type: ValueParameter["type"]): boolean {
  const trimmed = text.trim();
  if (trimmed === "" || trimmed === "..") return true;
  return !TEXTUAL.has(type) && /^(?:null|undefined)$/i.test(trimmed);
}

const TEXTUAL: ReadonlySet<ValueParameter["type"]> = new Set([
  "text",
  "search",
  "oneOf",
  "several",
]);

interface ReadText {
  readonly text: string;
  readonly bounds?: ReadValue["bounds"];
  readonly notices?: readonly Notice[];
}

function readText(
  text: string,
  declaration: ValueParameter,
  context: ValueContext,
): Result<ReadText> {
  const { name, type, comparison, values } = declaration;
  switch (type) {
    case "integer":
    case "decimal": {
      const value = readNumber(text, declaration, context);
      if (!value.ok) return value;
      return success({ text: text.trim(), bounds: boundsOf(comparison, value.value) });
    }
    case "range":
      return readRange(text, declaration, context);
    case "boolean": {
      const value = readBoolean(text);
      if (value === null) return failure(fault("boolean.form", { text }));
      return success({ text: String(value) });
    }
    case "text":
    case "search":
      return success({ text });
    case "oneOf":
    case "several": {
      const column = context.columns.get(declaration.column ?? "");
      if (isNumeric(column)) {
        const value = readNumber(text, declaration, context);
        if (!value.ok) return value;
      }
      if (values?.includes(text) === true) return success({ text });
      if (values === undefined) {
        const parts = type === "several" ? valuesWithCommas(text) : [];
        const facts = { parameter: name, text, separate: repeatedParameter(name, parts) };
        return success({ text, notices: parts.length === 0 ? [] : [notice("value.list", facts)] });
      }
      return failure({
        ...fault("parameter.choice", { text, values, meant: nearest(text, values) }),
      });
    }
  }
}

/** A number in its one spelling, of no more decimals than its unit has. */
function readNumber(
  text: string,
  { type, column }: ValueParameter,
  { columns, listing }: ValueContext,
): Result<string> {
  const isWhole = columns.get(column ?? "")?.type === "integer";
  const scale = listing.units?.[column ?? ""]?.scale ?? 0;
  const wanted = type === "integer" || (isWhole && scale === 0) ? "integer" : "decimal";
  const number = decimalOf(text.trim());
  if (number === null || (type === "integer" && number.includes("."))) {
    return failure(fault("number.form", { text, type: wanted }));
  }
  const decimals = number.split(".")[1]?.length ?? 0;
  if (isWhole && decimals > scale) return failure(fault("number.scale", { text, scale }));
  return success(number);
}

function readRange(
  text: string,
  declaration: ValueParameter,
  context: ValueContext,
): Result<ReadText> {
  const ends = text.split("/").map((end) => end.trim());
  const [from = "", to = from] = ends;
  if (ends.length > 2 || from === "" || to === "") return failure(fault("range.form", { text }));
  const read = ends.map((end) =>
    end === ".." ? success(null) : readNumber(end, declaration, context),
  );
  const faults = read.flatMap((each) => (each.ok ? [] : each.faults));
  if (faults.length > 0) return failure(...faults);
  // One number is both ends, and has its fault once.
  const [least = null, most = least] = read.map((each) =>
    each.ok && each.value !== null ? { value: each.value, isIn: true } : null,
  );
  if (least !== null && most !== null && compareDecimals(least.value, most.value) > 0) {
    if (context.listing.reversed === "reject") {
      return failure(fault("range.reversed", { first: from, second: to }));
    }
    return success({
      text: `${to}/${from}`,
      bounds: { least: most, most: least },
      notices: [notice("range.swapped", { first: to, second: from })],
    });
  }
  return success({ text: ends.length === 1 ? from : `${from}/${to}`, bounds: { least, most } });
}

function boundsOf(comparison: ValueParameter["comparison"], value: string): ReadValue["bounds"] {
  const bound = (isIn: boolean): NumberBound => ({ value, isIn });
  switch (comparison) {
    case "atLeast":
      return { least: bound(true), most: null };
    case "above":
      return { least: bound(false), most: null };
    case "atMost":
      return { least: null, most: bound(true) };
    case "below":
      return { least: null, most: bound(false) };
    default:
      return { least: bound(true), most: bound(true) };
  }
}

/** Two numbers as the ends of one range, put right or refused where they are in reverse order. */
function pairOf(
  first: ReadValue,
  second: ReadValue,
  blanks: BlankPolicy,
  { listing }: ValueContext,
): Result<PlannedValues> {
  const least = first.bounds?.least ?? second.bounds?.least ?? null;
  const most = first.bounds?.most ?? second.bounds?.most ?? null;
  const column = first.declaration.column ?? "";
  const isReversed =
    least !== null && most !== null && compareDecimals(least.value, most.value) > 0;
  const [low, high] = first.bounds?.least == null ? [second, first] : [first, second];
  const facts = { first: low.values[0] ?? "", second: high.values[0] ?? "" };
  if (isReversed && listing.reversed === "reject") {
    const place = { parameter: high.declaration.name, value: high.raw[0] ?? "" };
    return failure(fault("range.reversed", facts, place));
  }
  // Each end keeps whether it is in itself.
  const [from, to] = isReversed
    ? [
        { value: most.value, isIn: least.isIn },
        { value: least.value, isIn: most.isIn },
      ]
    : [least, most];
  const filter: Filter = { kind: "number", column, side: "inside", least: from, most: to, blanks };
  const parameters = isReversed
    ? [
        { ...low, values: high.values },
        { ...high, values: low.values },
      ]
    : [low, high];
  const swapped = notice("range.swapped", { first: facts.second, second: facts.first });
  return success({ condition: { parameters, filter }, notices: isReversed ? [swapped] : [] });
}

function filterOf(read: ReadValue, blanks: BlankPolicy, context: ValueContext): Filter {
  const { declaration, values, bounds } = read;
  const { type, comparison } = declaration;
  const columns = columnsOf(declaration);
  const [column = ""] = columns;
  const side: Side = NEGATIVE.has(comparison) ? "outside" : "inside";
  const caseSensitive = declaration.caseSensitive ?? false;
  switch (type) {
    case "integer":
    case "decimal":
    case "range": {
      const { least = null, most = null } = bounds ?? {};
      return { kind: "number", column, side, least, most, blanks };
    }
    case "boolean": {
      const isYes = (values[0] === "true") === (side === "inside");
      return { kind: "boolean", column, side: isYes ? "inside" : "outside", blanks };
    }
    case "text": {
      const match = MATCH_OF[comparison] ?? "is";
      const pattern = patternOf(match, values[0] ?? "");
      return { kind: "text", column, side, pattern, caseSensitive, blanks };
    }
    case "search": {
      // Every word somewhere: in whatever order, and in whichever of the columns.
      const words = (values[0] ?? "").split(/\s+/u).filter((word) => word !== "");
      const each = words.map((word) =>
        combined(
          "any",
          columns.map((name): Filter => ({
            kind: "text",
            column: name,
            side: "inside",
            pattern: patternOf("contains", word),
            caseSensitive,
            blanks: "exclude",
          })),
        ),
      );
      return combined("all", each);
    }
    case "oneOf":
    case "several": {
      const isNumber = isNumeric(context.columns.get(column));
      const numbers = values.flatMap((value) => {
        const found = readNumber(value, declaration, context);
        return found.ok ? [found.value] : [];
      });
      return {
        kind: "oneOf",
        column,
        side,
        values: isNumber ? numbers : values,
        caseSensitive: isNumber || (declaration.caseSensitive ?? true),
        blanks,
      };
    }
  }
}

const NEGATIVE: ReadonlySet<ValueParameter["comparison"]> = new Set([
  "isNot",
  "lacks",
  "outside",
  "noneOf",
]);

const MATCH_OF: Readonly<
  Partial<Record<ValueParameter["comparison"], "is" | "contains" | "begins" | "ends">>
> = {
  contains: "contains",
  lacks: "contains",
  begins: "begins",
  ends: "ends",
};

function combined(kind: "all" | "any", of: readonly Filter[]): Filter {
  const [only] = of;
  return only !== undefined && of.length === 1 ? only : { kind, of };
}

/** The columns that a parameter of values speaks of. */
function columnsOf({ column, columns }: ValueParameter): readonly string[] {
  return columns ?? (column === undefined ? [] : [column]);
}

function isNumeric(column: Column | undefined): boolean {
  return column?.type === "integer" || column?.type === "decimal";
}
