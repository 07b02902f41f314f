import { failure, fault, success, type Fault, type Result } from "../faults/index.js";

/** The characters that can stand before the decimals, and between groups of digits. */
export const DECIMAL_SEPARATORS = [".", ","] as const;
export const GROUP_SEPARATORS = [".", ",", " ", "'"] as const;

/** How the numbers of a column are written. */
export interface NumberForm {
  /** The character before the decimals; `.` by default, and `,` where groups have points. */
  readonly decimal?: (typeof DECIMAL_SEPARATORS)[number];
  /** The character between groups of digits; none by default. A space is any space, `'` also `’`. */
  readonly group?: (typeof GROUP_SEPARATORS)[number];
  /** What may stand before or after a number, such as `€`, `kg` or `%`; the number is as it is written beside it. */
  readonly units?: readonly string[];
  /** Whether `(12)` and `12-` are negative, as in accounting. */
  readonly accounting?: boolean;
}

/** How yes and no are written in a column, in any letter case. */
export interface BooleanForm {
  readonly true: readonly string[];
  readonly false: readonly string[];
}

/** Characters of a number at most; what is longer is none. */
const LONGEST = 60;
const MAX_UNITS = 20;
const LONGEST_UNIT = 12;

const GROUPS: Readonly<Record<NonNullable<NumberForm["group"]>, string>> = {
  ".": "\\.",
  ",": ",",
  " ": "[ \\u00a0\\u2009\\u202f]",
  "'": "['’]",
};

/** Reads a written number as plain digits with a point, such as `-1234.56`; null for what is no number. */
export type NumberReader = (text: string) => string | null;

/**
 * Makes the reader of a form. It is exact, digit by digit: groups are of three digits, or of two before the last three
 * as in `1,23,45,678`, and a number without groups is read too.
 *
 * @example compileNumberForm({ decimal: ",", group: "." }).value("1.234,56") // "1234.56"
 */
export function compileNumberForm(form: NumberForm): Result<NumberReader> {
  const faults = formFaults(form);
  if (faults.length > 0) return failure(...faults);
  const { group, units = [], accounting = false } = form;
  const decimal = decimalIn(form);
  const point = decimal === "." ? "\\." : ",";
  const between = group === undefined ? null : GROUPS[group];
  const grouped =
    between === null
      ? ""
      : `[1-9]\\d{0,2}(?:${between}\\d{3})+|[1-9]\\d?(?:${between}\\d{2})+${between}\\d{3}|`;
  const number = new RegExp(`^([+-]?)\\s*(${grouped}\\d+)?(?:${point}(\\d+))?$`);
  // The longest first: “kg” is not “g”.
  const longest = [...units].map(foldUnit).sort((a, b) => b.length - a.length);
  return success((text) => {
    if (text.length > LONGEST) return null;
    const bare = withoutUnits(text.trim().replace(/[−–]/g, "-"), longest, accounting);
    if (bare === null) return null;
    const [, sign = "", whole = "", fraction = ""] = number.exec(bare.text) ?? ["", "", "", ""];
    if (whole === "" && fraction === "") return null;
    const isNegative = (sign === "-") !== bare.isNegative;
    if (sign !== "" && bare.isNegative) return null;
    const digits = whole === "" ? "0" : whole.replace(/\D/g, "");
    return `${isNegative ? "-" : ""}${digits}${fraction === "" ? "" : `.${fraction}`}`;
  });
}

/** Writes a plain number in a form, without groups and units; it reads back as the same. */
export function writeNumber(plain: string, form: NumberForm): string {
  return plain.replace(".", decimalIn(form));
}

/** The character before the decimals in a form. */
export function decimalIn({ decimal, group }: NumberForm): "." | "," {
  return decimal ?? (group === "." ? "," : ".");
}

/** Makes the reader of yes and no in a form; null for what is neither. */
export function compileBooleanForm(form: BooleanForm): Result<(text: string) => boolean | null> {
  const [yes, no] = [form.true, form.false].map((all) => new Set(all.map(foldUnit)));
  const both = form.true.find((each) => no?.has(foldUnit(each)) === true);
  const isWhole = (yes?.size ?? 0) > 0 && (no?.size ?? 0) > 0;
  if (!isWhole || both !== undefined || yes?.has("") === true || no?.has("") === true) {
    return failure(
      fault(
        "boolean.words",
        { both: both ?? null },
        { path: both === undefined ? "true" : "false" },
      ),
    );
  }
  return success((text) => {
    const folded = foldUnit(text);
    if (yes?.has(folded) === true) return true;
    return no?.has(folded) === true ? false : null;
  });
}

function foldUnit(text: string): string {
  return text.trim().toLowerCase();
}

/** What is left of a number without its unit and the marks of accounting; null where the marks do not match. */
function withoutUnits(
  text: string,
  units: readonly string[],
  accounting: boolean,
): { readonly text: string; readonly isNegative: boolean } | null {
  const stripped = stripUnits(text, units);
  if (!accounting) return { text: stripped, isNegative: false };
  const inner = /^\((.*)\)$/.exec(stripped)?.[1];
  if (inner !== undefined) return { text: stripUnits(inner.trim(), units), isNegative: true };
  const before = /^(.*\d.*)-$/.exec(stripped)?.[1];
  if (before !== undefined) return { text: stripUnits(before.trim(), units), isNegative: true };
  return { text: stripped, isNegative: false };
}

/** Takes one unit from the end and one from the beginning, which may stand behind the sign. */
function stripUnits(text: string, units: readonly string[]): string {
  if (units.length === 0) return text;
  const small = text.toLowerCase();
  // A letter that is longer when it is small would put the places wrong.
  if (small.length !== text.length) return text;
  const last = units.find((unit) => small.endsWith(unit));
  const end = text.length - (last?.length ?? 0);
  let start = small.startsWith("-") || small.startsWith("+") ? 1 : 0;
  const sign = text.slice(0, start);
  while (small[start] === " ") start++;
  const first = units.find((unit) => small.startsWith(unit, start) && start + unit.length <= end);
  if (first === undefined) return last === undefined ? text : text.slice(0, end).trimEnd();
  return sign + text.slice(start + first.length, end).trim();
}

function formFaults(form: NumberForm): readonly Fault[] {
  const { group, units = [] } = form;
  const faults: Fault[] = [];
  if (decimalIn(form) === group)
    faults.push(fault("number.written", { reason: "separators" }, { path: "group" }));
  for (const [index, unit] of units.entries()) {
    const folded = foldUnit(unit);
    const isRight =
      folded !== "" && folded.length <= LONGEST_UNIT && !/[\d()+]/.test(folded) && folded !== "-";
    if (!isRight) {
      faults.push(
        fault("number.written", { reason: "unit" }, { path: `units.${index}`, value: unit }),
      );
    }
  }
  if (units.length > MAX_UNITS) {
    faults.push(fault("number.written", { reason: "units" }, { path: "units" }));
  }
  return faults;
}

/**
 * The form of an example, such as `1.234,56 €`; of whole numbers any separator is one of groups. Fails with
 * `number.example` where the example can be read in two ways, or is no number.
 */
export function numberFormOf(example: string, type: "integer" | "decimal"): Result<NumberForm> {
  const parts = partsOf(example);
  const refused = failure(fault("number.example", { text: example, type }, { value: example }));
  if (parts === null) return refused;
  const { core, before, after, accounting } = parts;
  const units = [...new Set([before, after].filter((each) => each !== ""))];
  const separators = core
    .replace(/\d/g, "")
    .replace(/[\u00a0\u2009\u202f]/g, " ")
    .replace(/’/g, "'");
  const kinds = [...new Set(separators)];
  const more = {
    ...(units.length === 0 ? {} : { units }),
    ...(accounting ? { accounting } : {}),
  };
  const checked = (form: NumberForm): Result<NumberForm> => {
    const compiled = compileNumberForm(form);
    if (!compiled.ok) return compiled;
    const read = compiled.value(example);
    return read === null || (type === "integer" && read.includes(".")) ? refused : success(form);
  };
  const asGroup = (group: string | undefined) => GROUP_SEPARATORS.find((each) => each === group);
  const [first, last] = [kinds[0], kinds.at(-1)];
  if (kinds.length === 0) return checked(more);
  if (type === "integer") {
    const group = asGroup(first);
    return kinds.length > 1 || group === undefined ? refused : checked({ ...more, group });
  }
  const decimal = DECIMAL_SEPARATORS.find((each) => each === last);
  if (decimal === undefined || kinds.length > 2) return refused;
  if (kinds.length === 2) {
    const group = asGroup(first);
    return group === undefined ? refused : checked({ ...more, decimal, group });
  }
  // One separator before three digits may be of groups.
  const isDoubtful = /^[1-9]\d{0,2}[.,]\d{3}$/.test(core) || separators.length > 1;
  return isDoubtful ? refused : checked({ ...more, decimal });
}

/** A text as a number with what stands around it. */
export interface NumberParts {
  /** From the first digit to the last, with what stands between. */
  readonly core: string;
  readonly before: string;
  readonly after: string;
  readonly accounting: boolean;
}

const PARTS =
  /^(\(?)\s*([+-]?)\s*([^\d()+\-.,]*?)\s*([+-]?)((?:[.,]?\d)(?:[\d.,'’ \u00a0\u2009\u202f]*\d)?)\s*(-?)\s*([^\d()+-]*?)\s*(\)?)\s*(-?)$/;

/** Takes a text apart that may be a number; null for what is none. */
export function partsOf(text: string): NumberParts | null {
  if (text.length > LONGEST) return null;
  const found = PARTS.exec(text.trim().replace(/\s+/g, " ").replace(/[−–]/g, "-"));
  if (found === null) return null;
  const [, open = "", , before = "", , core = "", minus = "", after = "", close = "", end = ""] =
    found;
  if ((open === "") !== (close === "")) return null;
  const units = [before, after].map((each) => each.trim());
  if (units.some((unit) => unit.length > LONGEST_UNIT)) return null;
  const [first = "", last = ""] = units;
  const isAccounting = open !== "" || minus !== "" || end !== "";
  return { core, before: first, after: last, accounting: isAccounting };
}
