import { fault, oneOf, type Fault } from "../faults/index.js";
import { NESTED_ROWS, type NestedRows } from "../sql/index.js";
import type { ListingDeclaration } from "./declaration.js";
import type { SentParameters } from "./sent.js";
import { listFault } from "./value-list.js";
import { takesResume } from "./resume.js";

/** How a total is wanted: stopped at a limit, to the last record, or not at all. */
export const TOTALS = ["bounded", "exact", "none"] as const;
/** Dearer figures that can be requested beside the records. */
export const EXTRAS = [
  "unfiltered",
  "extent",
  "days",
  "clauses",
  "display",
  "escaped",
  "why",
] as const;
/** The forms in which records are returned. */
export const FORMATS = ["json", "csv", "ndjson", "xlsx", "ics", "atom"] as const;
export type Format = (typeof FORMATS)[number];
/** Records that a numbered page may have before it: all of them are read. */
const MAX_PASSED = 100_000;

/** What records that are picked up in the order of their changes cannot have beside. */
const NOT_BESIDE_RESUME = ["cursor", "page", "offset", "order", "total", "rows", "format"];

/** The parameters that mean the same at every listing. */
export interface Envelope {
  readonly size: number;
  readonly cursor: string | null;
  /** Where to pick up: `start`, or the token of an earlier answer; null for a page of its own. */
  readonly resume: string | null;
  readonly total: (typeof TOTALS)[number];
  /** What is shown of records with values inside; null for a source without. */
  readonly rows: NestedRows | null;
  /** The form that is requested by name; null where it is not. */
  readonly format: Format | null;
  /** The columns that are requested, in their order; null for all that the listing shows. */
  readonly columns: readonly string[] | null;
  /** Records that are passed over, where a page is requested by its number; else null. */
  readonly offset: number | null;
  /** Whether the caller said how many records there should be. */
  readonly isSized: boolean;
  readonly extras: readonly (typeof EXTRAS)[number][];
}

/** Reads the fixed parameters of a request; gives every fault beside what could be read. */
export function readEnvelope(
  sent: SentParameters,
  { page, rows: declared, endpoint, resume: resumable }: ListingDeclaration,
  shown: readonly string[],
): { readonly envelope: Envelope; readonly faults: readonly Fault[] } {
  const faults: Fault[] = [];
  // What a listing does not take is refused or ignored as a whole.
  const absent = new Set([
    ...(page.numbered === true || endpoint?.paging?.page !== undefined ? [] : ["page"]),
    ...(endpoint?.paging?.offset === undefined ? ["offset"] : []),
    ...(declared === undefined ? ["rows"] : []),
    ...(takesResume(resumable) ? [] : ["resume"]),
  ]);
  const text = (name: string) => {
    if (absent.has(name)) return undefined;
    const value = sent.get(name)?.[0]?.trim() ?? "";
    return value === "" ? undefined : value;
  };
  const number = (name: string) => wholeNumber(text(name));
  const choice = <T extends string>(name: string, accepted: readonly T[]): T | undefined => {
    const value = text(name);
    const found = accepted.find((each) => each === value);
    if (value !== undefined && found === undefined) faults.push(choiceFault(name, value, accepted));
    return found;
  };
  const size = number("size") ?? page.size;
  if (!(size >= 1 && size <= page.max)) {
    const place = { parameter: "size", value: text("size") ?? "" };
    faults.push(fault("page.size", { least: 1, most: page.max }, place));
  }
  const total = choice("total", TOTALS) ?? "bounded";
  const rows = choice("rows", NESTED_ROWS) ?? declared ?? null;
  const format = choice("format", FORMATS) ?? null;
  const columns = (sent.get("columns") ?? [])
    .map((name) => name.trim())
    .filter((name) => name !== "");
  for (const name of columns) {
    if (shown.includes(name)) continue;
    const place = { parameter: "columns", value: name };
    const list = listFault("columns", name, (each) => shown.includes(each));
    faults.push(list ?? fault("column.unknown", { name, known: shown }, place));
  }
  // A size that is wrong is reported by itself.
  const byPage = ((number("page") ?? 1) - 1) * (Number.isNaN(size) ? page.size : size);
  const passed = number("offset") ?? byPage;
  if (!(passed >= 0 && passed <= MAX_PASSED)) {
    const facts = { accepted: `a number from 1 on, with ${MAX_PASSED} records before it at most` };
    const by = text("offset") === undefined ? "page" : "offset";
    const offsets = { accepted: `a whole number, ${MAX_PASSED} at most` };
    const place = { parameter: by, value: text(by) ?? "" };
    faults.push(fault("parameter.value", by === "page" ? facts : offsets, place));
  }
  if (text("page") !== undefined && text("cursor") !== undefined) {
    const facts = { first: "page", second: "cursor" };
    faults.push(
      fault("parameter.conflict", facts, { parameter: "cursor", value: text("cursor") ?? "" }),
    );
  }
  const resume = text("resume") ?? null;
  if (resume !== null) {
    for (const name of NOT_BESIDE_RESUME) {
      const value = text(name);
      const isJson = name === "format" && value === "json";
      if (value === undefined || isJson) continue;
      faults.push(fault("resume.beside", { name }, { parameter: name, value }));
    }
  }
  const words = text("with")
    ?.split(",")
    .map((each) => each.trim());
  const extras = EXTRAS.filter((each) => words?.includes(each) === true);
  const other = words?.find((each) => each !== "clauses" && each !== "display");
  if (resume !== null && other !== undefined) {
    faults.push(fault("resume.beside", { name: `with=${other}` }, { parameter: "with" }));
  }
  if (words?.every((each) => (EXTRAS as readonly string[]).includes(each)) === false) {
    faults.push(choiceFault("with", text("with") ?? "", EXTRAS));
  }
  return {
    envelope: {
      size,
      cursor: text("cursor") ?? null,
      resume,
      total,
      rows,
      format,
      columns: columns.length === 0 ? null : [...new Set(columns)],
      offset: text("page") === undefined && text("offset") === undefined ? null : passed,
      isSized: text("size") !== undefined,
      extras,
    },
    faults,
  };
}

/** A number of up to nine digits; undefined for none, and NaN for any other text. */
function wholeNumber(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  return /^\d{1,9}$/.test(text) ? Number(text) : NaN;
}

function choiceFault(parameter: string, value: string, accepted: readonly string[]): Fault {
  return fault("parameter.value", oneOf(value, accepted), { parameter, value });
}
