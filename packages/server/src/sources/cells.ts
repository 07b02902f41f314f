import type { ColumnDeclaration } from "@orisma/contract";
import {
  compileBooleanForm,
  compileNumberForm,
  compileReading,
  encodeMs,
  fault,
  foldText,
  isBlankText,
  isPlainNumber,
  withLocation,
  readBoolean,
  renderFault,
  type BooleanForm,
  type Fault,
  type NumberForm,
  type Reading,
  type RenderedFault,
  type Result,
  type SqlValue,
} from "@orisma/core/internal";

/** The text of a cell as it came, or null. */
type RawCell = string | null;

/** A text as it is stored to be compared without regard to letter case; null for a blank one. */
export function foldedOf(raw: RawCell): string | null {
  return raw === null || isBlankText(raw) ? null : foldText(raw);
}

/** A text as the database has it: half of a character that takes two is none. */
export function wellFormed(text: string): string {
  return text.replace(/\p{Surrogate}/gu, "\ufffd");
}

/** A cell as it is stored. */
export type StoredCell =
  /** For numbers too: the cell holds what its column is for. */
  | {
      readonly state: "dated";
      readonly value: SqlValue;
      /** The last day of a date without a day, where all of its days count. */
      readonly last?: SqlValue;
    }
  | { readonly state: "blank" }
  | { readonly state: "unreadable"; readonly fault: Fault };

/** Makes the reader of a column that holds no strings. */
export function cellReader(
  column: Exclude<ColumnDeclaration, { readonly type: "text" }>,
): (raw: RawCell) => StoredCell {
  switch (column.type) {
    case "date":
      return dateReader(column.reading);
    case "boolean":
      return booleanReader(column.written);
    default:
      return numberReader(column.type, column.written);
  }
}

function dateReader(reading: Reading): (raw: RawCell) => StoredCell {
  const compiled = valueOrThrow(compileReading(reading));
  return (raw) => {
    const cell = compiled.read(raw);
    if (cell.state !== "dated") return cell;
    const [first, last] = [cell.ms, cell.last ?? cell.ms].map((ms) => encodeMs(ms, compiled.kind));
    if (first?.kind !== "value" || last?.kind !== "value") {
      return { state: "unreadable", fault: fault("date.form", { text: raw ?? "" }) };
    }
    return {
      ...{ state: "dated", value: first.text },
      ...(cell.last === undefined ? {} : { last: last.text }),
    };
  };
}

/** What was checked when it was declared. */
function valueOrThrow<T>(compiled: Result<T>): T {
  if (compiled.ok) return compiled.value;
  throw new Error(compiled.faults.map(({ code }) => code).join(", "));
}

function numberReader(
  type: "integer" | "decimal",
  form: NumberForm | undefined,
): (raw: RawCell) => StoredCell {
  const read = form === undefined ? null : valueOrThrow(compileNumberForm(form));
  return (raw) => {
    const text = (raw ?? "").trim();
    if (text === "") return { state: "blank" };
    const plain = read === null ? text : read(text);
    if (plain !== null && isPlainNumber(plain, type)) return { state: "dated", value: plain };
    return { state: "unreadable", fault: fault("number.form", { text: raw ?? "", type }) };
  };
}

function booleanReader(form: BooleanForm | undefined): (raw: RawCell) => StoredCell {
  const read = form === undefined ? readBoolean : valueOrThrow(compileBooleanForm(form));
  return (raw) => {
    const text = (raw ?? "").trim();
    if (text === "") return { state: "blank" };
    const value = read(text);
    if (value !== null) return { state: "dated", value: value ? 1 : 0 };
    return { state: "unreadable", fault: fault("boolean.form", { text }) };
  };
}

/** A fault of a cell with its text, as it is sent. */
export function faultOf(found: Fault, raw: RawCell): RenderedFault {
  return renderFault(withLocation(found, { value: raw ?? "" }));
}
