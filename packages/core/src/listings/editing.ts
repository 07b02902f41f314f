import { MS_PER_DAY } from "../calendar/index.js";
import { failure, fault, withLocation, success, type Fault, type Result } from "../faults/index.js";
import { decimalOf, type Catalogue, type Column } from "../filters/index.js";
import {
  compileReading,
  isPlainNumber,
  readBoolean,
  writeNumber,
  type BooleanForm,
  type NumberForm,
  type Reading,
} from "../reading/index.js";
import { readGiven, resolvePart, withMeant, type WindowContext } from "../windows/index.js";
import type { EditValue, ListingDeclaration } from "./declaration.js";
import { nameFault } from "./names.js";
import { scaled } from "./units.js";

/** What cells are to hold, by column: the text that is stored, or null for none. */
export type EditedCells = ReadonlyMap<string, string | null>;

/** What values are read with. */
export interface EditContext {
  readonly columns: Catalogue;
  /** How the dates of the source are stored; one that is not there is checked, and not written. */
  readonly readings: ReadonlyMap<string, Reading>;
  /** How numbers, and yes and no, are written; plainly in a column that is not there. */
  readonly written?: ReadonlyMap<string, NumberForm | BooleanForm>;
  /** Milliseconds between the moments that a column can hold; 1 for one that is not there. */
  readonly steps?: ReadonlyMap<string, number>;
  /** When and where `now`, `today` and the like are. */
  readonly window: WindowContext;
  /** The name of whoever edits: the `caller()` of actions. */
  readonly caller: string;
}

/** What stands for the name of the caller in an action. */
export const CALLER = "caller()";

/**
 * Reads the values of an edit into the strings that are stored: dates in the pattern of their column, numbers in
 * stored units.
 *
 * A date is a day, or of columns with a time of day a moment to the minute or finer; words such as `today`,
 * `now` and `today+P7D` are read too. Fails with `edit.column` for a column that is not editable, `edit.value`
 * for a value of another type, and the faults of dates and numbers, each with its place.
 */
export function readEdit(
  { editable = [], units = {} }: ListingDeclaration,
  values: Readonly<Record<string, EditValue>>,
  context: EditContext,
): Result<EditedCells> {
  return readValues(values, { ...context, units, editable });
}

/** What an action sets, read likewise; `caller()` is the name of the caller. */
export function readAction(
  { actions = {}, units = {} }: ListingDeclaration,
  name: string,
  context: EditContext,
): Result<EditedCells> {
  const action = actions[name];
  if (action === undefined) {
    const facts = { what: "action", name, known: Object.keys(actions) };
    return failure(fault("name.unknown", facts));
  }
  const set = Object.entries(action.set).map(([column, value]): [string, EditValue] => {
    const isText = context.columns.get(column)?.type === "text";
    return [column, isText && value === CALLER ? context.caller : value];
  });
  return readValues(Object.fromEntries(set), { ...context, units, editable: null });
}

interface ValuesContext extends EditContext {
  readonly units: NonNullable<ListingDeclaration["units"]>;
  /** Null for all columns. */
  readonly editable: readonly string[] | null;
}

function readValues(
  values: Readonly<Record<string, EditValue>>,
  context: ValuesContext,
): Result<EditedCells> {
  const faults: Fault[] = [];
  const cells = new Map<string, string | null>();
  for (const [name, value] of Object.entries(values)) {
    const read = readCell(name, value, context);
    if (read.ok) cells.set(name, read.value);
    else {
      const place = { path: `values.${name}`, value: String(value) };
      faults.push(...read.faults.map((each) => withLocation(each, place)));
    }
  }
  if (faults.length > 0) return failure(...faults);
  if (cells.size > 0) return success(cells);
  const columns = context.editable ?? [...context.columns.keys()];
  return failure(fault("edit.empty", { columns }, { path: "values" }));
}

function readCell(name: string, value: EditValue, context: ValuesContext): Result<string | null> {
  const { columns, editable } = context;
  const column = columns.get(name);
  if (column === undefined || editable?.includes(name) === false) {
    return failure(fault("edit.column", { name, editable: editable ?? [...columns.keys()] }));
  }
  if (value === null) return success(null);
  const wanted = WANTED[column.type];
  const isRight = typeof value === "string" || typeof value === wanted.json;
  if (!isRight) return failure(fault("edit.value", { column: name, accepted: wanted.words }));
  return readText(String(value), column, context);
}

/** What JSON may have for a column beside text. */
const WANTED = {
  text: { json: "string", words: "a string, or null" },
  integer: { json: "number", words: "a whole number, or null" },
  decimal: { json: "number", words: "a number, or null" },
  boolean: { json: "boolean", words: "true or false, or null" },
  date: { json: "string", words: "a date such as 2026-11-30, today, or null" },
} as const;

function readText(text: string, column: Column, context: ValuesContext): Result<string> {
  switch (column.type) {
    case "text":
      return success(text);
    case "boolean": {
      const value = readBoolean(text);
      if (value === null) return failure(fault("boolean.form", { text }));
      const words = context.written?.get(column.name);
      const plain = value ? "true" : "false";
      return success(words !== undefined && "true" in words ? (words[plain][0] ?? plain) : plain);
    }
    case "date":
      return readDate(text, column, context);
    default:
      return readNumber(text, column.name, column.type, context);
  }
}

function readNumber(
  text: string,
  name: string,
  type: "integer" | "decimal",
  { units, written }: ValuesContext,
): Result<string> {
  const scale = units[name]?.scale ?? 0;
  const number = decimalOf(text.trim());
  const accepted = type === "integer" && scale === 0 ? "integer" : "decimal";
  if (number === null) return failure(fault("number.form", { text, type: accepted }));
  const decimals = number.split(".")[1]?.length ?? 0;
  if (type === "integer" && decimals > scale) {
    return failure(fault("number.scale", { text, scale }));
  }
  const stored = scale === 0 ? number : scaled(number, scale);
  // What a column cannot hold would be refused by the database.
  const form = written?.get(name);
  return isPlainNumber(stored, type)
    ? success(form === undefined || "true" in form ? stored : writeNumber(stored, form))
    : failure(fault("number.form", { text, type: accepted }));
}

function readDate(
  text: string,
  { name, kind }: Extract<Column, { readonly type: "date" }>,
  { readings, steps, window }: ValuesContext,
): Result<string> {
  const isOfDays = kind === "date";
  const whole = withoutDay(text.trim(), readings.get(name));
  if (whole !== null) return success(whole);
  const given = readGiven(text, { parameter: name, type: isOfDays ? "date" : "datetime" });
  if (!given.ok) return failure(...withMeant(given.faults, text, "date", window));
  const wanted = isOfDays ? ONE_DAY : ONE_MOMENT;
  const refused = failure(fault("edit.value", { column: name, accepted: wanted }));
  if (given.value.kind !== "part") return refused;
  const { part } = given.value;
  const resolved = resolvePart(part, window);
  if (!resolved.ok) return resolved;
  const { span } = resolved.value;
  if (span === null) return refused;
  const length = span.end.wall - span.start.wall;
  const isNow = part.base.kind === "now" && length === 0;
  if (isOfDays ? length !== MS_PER_DAY && !isNow : length > MS_PER_MINUTE) return refused;
  const { wall, instant } = span.start;
  const ms = kind === "instant" ? instant : isOfDays ? wall - mod(wall, MS_PER_DAY) : wall;
  const reading = readings.get(name);
  if (reading === undefined) return success(text);
  // The moment of a change is stored as exactly as the pattern of the column can.
  const least = steps?.get(name) ?? 1;
  const cuts = [least, ...NOW_TO.filter((step) => step > least)];
  const moments = isNow && !isOfDays ? cuts.map((step) => ms - mod(ms, step)) : [ms];
  const stored = moments.map((each) => writtenDate(each, reading, text, name));
  return stored.find(({ ok }) => ok) ?? stored[0] ?? refused;
}

/** A month or a year as it is stored, where the column has them and the text is written like one; else null. */
function withoutDay(text: string, reading: Reading | undefined): string | null {
  if (reading?.partial === undefined) return null;
  const compiled = compileReading(reading);
  const cell = compiled.ok ? compiled.value.read(text) : null;
  return cell?.state === "dated" && cell.last !== undefined ? text : null;
}

/** Milliseconds to which the present moment is cut where it cannot be stored as exactly as it is. */
const NOW_TO = [1_000, 60_000];

/** The stored text of a date, which must be read as the same: a pattern may have no time of day. */
function writtenDate(ms: number, reading: Reading, text: string, column: string): Result<string> {
  const compiled = compileReading(reading);
  if (!compiled.ok) return compiled;
  const stored = String(compiled.value.write(ms));
  const cell = compiled.value.read(stored);
  if (cell.state === "dated" && cell.ms === ms) return success(stored);
  const accepted = `a date that its pattern can hold: “${text}” would be stored as “${stored}”`;
  return failure(fault("edit.value", { column, accepted }));
}

const MS_PER_MINUTE = 60_000;
const ONE_DAY = "one day, such as 2026-11-30, today or today+P7D, or null";
const ONE_MOMENT = "one moment, such as 2026-11-30T09:30 or now, or null";

function mod(value: number, by: number): number {
  return ((value % by) + by) % by;
}

/** What editing is checked with. */
interface EditingCheck {
  /** The columns of the source itself. */
  readonly ofSource: Catalogue;
  readonly window: WindowContext;
}

/** The faults of what a listing lets be edited, and of its actions. */
export function editingFaults(
  listing: ListingDeclaration,
  { ofSource, window }: EditingCheck,
): readonly Fault[] {
  const { editable = [], actions = {}, columns: shown } = listing;
  const known = [...ofSource.keys()];
  const seen = shown.length === 0 ? known : known.filter((name) => shown.includes(name));
  const unknown = (name: string, path: string, among: readonly string[]) =>
    among.includes(name) ? [] : [fault("column.unknown", { name, known: among }, { path })];
  const context = { columns: ofSource, readings: new Map<string, Reading>(), window, caller: "" };
  return [
    ...editable.flatMap((name, index) => unknown(name, `editable.${index}`, seen)),
    ...Object.entries(actions).flatMap(([name, { set }]) => {
      const path = `actions.${name}`;
      const named = nameFault(name, path);
      const missing = Object.keys(set).flatMap((each) =>
        unknown(each, `${path}.set.${each}`, known),
      );
      if (missing.length > 0) return missing;
      const read = readAction(listing, name, context);
      const wrong = read.ok ? [] : read.faults;
      const placed = wrong.map((each) =>
        withLocation(each, { path: `${path}.${(each.path ?? "").replace(/^values/, "set")}` }),
      );
      return named === null ? placed : [named, ...placed];
    }),
  ];
}
