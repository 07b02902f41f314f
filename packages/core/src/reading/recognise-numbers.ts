import {
  DECIMAL_SEPARATORS,
  GROUP_SEPARATORS,
  compileNumberForm,
  decimalIn,
  partsOf,
  type NumberForm,
} from "./number-form.js";
import { isPlainNumber } from "./plain-numbers.js";
import { filledValues, type ValueCount } from "./column-values.js";

/** A form in which the numbers of a column could be written; counts are of cells. */
export interface NumberCandidate {
  readonly form: NumberForm;
  readonly type: "integer" | "decimal";
  readonly fits: number;
  /** Neither numbers in this form nor blank. */
  readonly misses: number;
  /** Some of the values that it does not fit. */
  readonly examples: readonly string[];
  /** The first values that it fits, and what they are. */
  readonly read: readonly { readonly value: string; readonly number: string }[];
}

/** What a column of values most likely is as numbers. */
export interface NumberRecognition {
  /**
   * `plain`: digits with a point, which need no form; `certain`: one form; `ambiguous`: another fits as well, or the
   * values could be names or codes; `mixed`: some values are no numbers; `none`: hardly any is one.
   */
  readonly verdict: "plain" | "certain" | "ambiguous" | "mixed" | "none";
  /** The likeliest first. */
  readonly candidates: readonly NumberCandidate[];
  /** Cells that would be other numbers under the second candidate. */
  readonly wouldChange: number;
  /** The evidence in a sentence. */
  readonly evidence: string;
}

/** Values that are looked at first. */
const FIRST_LOOK = 500;
/** A form is followed up where it fits this share of the values. */
const LEAST_SHARE = 0.05;
const MAX_CANDIDATES = 3;
const MAX_EXAMPLES = 5;
/** Different strings beside numbers that are taken for units; codes have more. */
const MAX_UNITS = 5;

/** Currencies, which stand before a number too. */
const CURRENCIES =
  "\\p{Sc}|EUR|USD|GBP|CHF|PLN|CZK|HUF|SEK|NOK|DKK|JPY|CNY|INR|AUD|CAD|NZD|BRL|TRY|RON|zł|Kč|kr|Ft";
const CURRENCY = new RegExp(`^(?:${CURRENCIES})$`, "u");
/** Texts that mean a unit behind a number, whatever the column. */
const UNIT = new RegExp(
  `^(?:${CURRENCIES}|[%‰°]|°[CF]|[kmµ]?g|t|[kcm]?m|km/h|m[²³23]|ha|[mc]?l|[kMG]?Wh|[kM]W|k?V|mA|min|h|Std|hrs?|kn|mph|[kMGT]?B)$`,
  "u",
);

/**
 * Recognises how the numbers of a column are written, from its distinct values. Nothing in doubt is confirmed: where
 * two forms fit as well and give other numbers, or where the values may be codes (leading zeros, unknown words beside
 * them), the verdict says so.
 *
 * @example recogniseNumbers([{ value: "1.234,56", count: 2 }]).verdict // "certain"
 */
export function recogniseNumbers(values: readonly ValueCount[]): NumberRecognition {
  const filled = filledValues(values).map(({ value, count }) => ({
    text: String(value).trim(),
    count,
  }));
  const step = Math.max(1, Math.ceil(filled.length / FIRST_LOOK));
  const sample = filled.filter((_, index) => index % step === 0);
  const units = unitsOf(sample);
  const tried = formsFor(sample, units)
    .filter((form) => isOffered(tryForm(form, sample)))
    .map((form) => tryForm(form, filled))
    .filter(isOffered);
  const [best, ...others] = distinctOf(tried);
  const none = { candidates: [], wouldChange: 0 };
  if (best === undefined) return { ...none, verdict: "none", evidence: "hardly any is a number" };
  const rivals = others.filter(({ fits }) => fits >= best.fits);
  const [rival] = rivals;
  const isPlain = best.misses === 0 && filled.every(({ text }) => isPlainNumber(text, "decimal"));
  if (isPlain && rival === undefined) {
    return { ...none, verdict: "plain", evidence: "every value is a plain number" };
  }
  const wouldChange = rival === undefined ? 0 : differing(best, rival, filled);
  const doubt = doubtOf(best, filled);
  const candidates = [best, ...others].slice(0, MAX_CANDIDATES).map(candidateOf);
  const verdict =
    wouldChange > 0 || doubt !== null ? "ambiguous" : best.misses > 0 ? "mixed" : "certain";
  const evidence = [
    `${best.fits} cells are numbers written as ${formInWords(best.form, typeOf(best))}`,
    ...(best.misses > 0 ? [`${best.misses} are not`] : []),
    ...(rival === undefined || wouldChange === 0
      ? []
      : [
          `as ${formInWords(rival.form, typeOf(rival))} ${wouldChange} of them would be other numbers`,
        ]),
    ...(doubt === null ? [] : [doubt]),
  ].join("; ");
  return { verdict, candidates, wouldChange, evidence };
}

/** Whether a column that is held as text can only be numbers in one form. */
export function isCertainNumbers(column: {
  readonly type: string;
  readonly written: Pick<NumberRecognition, "verdict">;
}): boolean {
  return column.type === "text" && column.written.verdict === "certain";
}

/** A form by an example of a number in it, such as `1.234,56 €`. */
export function formInWords(form: NumberForm, type: "integer" | "decimal" = "decimal"): string {
  const { group = "", units = [], accounting } = form;
  const [unit] = units;
  const decimals = type === "integer" ? "" : `${decimalIn(form)}56`;
  const number = `1${group}234${decimals}${unit === undefined ? "" : ` ${unit}`}`;
  return accounting === true ? `${number} or (${number})` : number;
}

interface Value {
  readonly text: string;
  readonly count: number;
}

interface Tried {
  readonly form: NumberForm;
  /** Each value in its one spelling; null where it is no number. */
  readonly numbers: readonly (string | null)[];
  readonly fits: number;
  readonly misses: number;
  readonly examples: readonly string[];
  readonly read: NumberCandidate["read"];
  readonly hasDecimals: boolean;
}

function isOffered({ fits, misses }: Tried): boolean {
  return fits > 0 && fits >= (fits + misses) * LEAST_SHARE;
}

function unitsOf(sample: readonly Value[]): readonly string[] {
  const found = new Set<string>();
  for (const { text } of sample) {
    const { before = "", after = "" } = partsOf(text) ?? {};
    // A word before a number is a part of a name, as in “Lock 12”.
    if (CURRENCY.test(before)) found.add(before);
    if (after !== "") found.add(after);
  }
  return found.size > MAX_UNITS ? [] : [...found];
}

/** The forms that some of the values suggest, the plainest first. */
function formsFor(sample: readonly Value[], units: readonly string[]): readonly NumberForm[] {
  const parts = sample.flatMap(({ text }) => partsOf(text) ?? []);
  if (parts.length < sample.length * LEAST_SHARE) return [];
  const all = parts.map(({ core }) => core).join("");
  const groups = GROUP_SEPARATORS.filter((each) =>
    each === " " ? /\s/.test(all) : each === "'" ? /['’]/.test(all) : all.includes(each),
  );
  const more = {
    ...(units.length === 0 ? {} : { units }),
    ...(parts.some(({ accounting }) => accounting) ? { accounting: true } : {}),
  };
  return [undefined, ...groups].flatMap((group) =>
    DECIMAL_SEPARATORS.filter(
      (decimal) =>
        decimal !== group &&
        (decimal === decimalIn(group === undefined ? {} : { group }) || all.includes(decimal)),
    ).map((decimal) => {
      const grouped = group === undefined ? {} : { group };
      return { ...(decimal === decimalIn(grouped) ? {} : { decimal }), ...grouped, ...more };
    }),
  );
}

function tryForm(form: NumberForm, filled: readonly Value[]): Tried {
  const read = compileNumberForm(form);
  const numbers: (string | null)[] = [];
  const examples: string[] = [];
  const first: { value: string; number: string }[] = [];
  let [fits, misses, hasDecimals] = [0, 0, false];
  for (const { text, count } of filled) {
    const plain = read.ok ? read.value(text) : null;
    const isNumber = plain !== null && isPlainNumber(plain, "decimal");
    numbers.push(isNumber ? spelled(plain) : null);
    if (isNumber) {
      fits += count;
      hasDecimals ||= plain.includes(".");
      if (first.length < MAX_EXAMPLES) first.push({ value: text, number: plain });
    } else {
      misses += count;
      if (examples.length < MAX_EXAMPLES) examples.push(text);
    }
  }
  return { form, numbers, fits, misses, examples, read: first, hasDecimals };
}

/** A plain number without zeros that mean nothing. */
function spelled(plain: string): string {
  const [whole = "", fraction = ""] = plain.split(".");
  const rest = fraction.replace(/0+$/, "");
  const digits = whole.replace(/^(-?)0+(?=\d)/, "$1");
  return rest === "" ? digits : `${digits}.${rest}`;
}

/** The most fitting first; of those that say the same the plainest. */
function distinctOf(tried: readonly Tried[]): readonly Tried[] {
  const kept: Tried[] = [];
  for (const each of [...tried].sort((a, b) => b.fits - a.fits)) {
    const isSame = kept.some(
      ({ numbers, fits }) =>
        fits >= each.fits &&
        each.numbers.every((number, index) => number === null || number === numbers[index]),
    );
    if (!isSame) kept.push(each);
  }
  return kept;
}

function differing(best: Tried, rival: Tried, filled: readonly Value[]): number {
  return filled.reduce((sum, { count }, index) => {
    const [one, other] = [best.numbers[index], rival.numbers[index]];
    return one != null && other != null && one !== other ? sum + count : sum;
  }, 0);
}

/** Why values that can be numbers may be something else; null for no reason. */
function doubtOf({ form, numbers, hasDecimals }: Tried, filled: readonly Value[]): string | null {
  const { units = [], group } = form;
  const cores = filled.flatMap(({ text }, index) =>
    numbers[index] === null ? [] : (partsOf(text)?.core ?? []),
  );
  if (cores.some((core) => /^0\d/.test(core))) {
    return "some begin with a zero, as codes do";
  }
  const strange = units.find((unit) => !UNIT.test(unit));
  if (strange !== undefined) return `“${strange}” would be a unit`;
  const digits = new Set(cores.map((core) => core.replace(/\D/g, "").length));
  const [length = 0] = digits;
  if (group === " " && !hasDecimals && digits.size === 1 && length >= 6) {
    return `all have ${length} digits, as numbers of telephones do`;
  }
  return null;
}

function candidateOf(tried: Tried): NumberCandidate {
  const { form, fits, misses, examples, read } = tried;
  return { form, type: typeOf(tried), fits, misses, examples, read };
}

function typeOf({ hasDecimals }: Tried): "integer" | "decimal" {
  return hasDecimals ? "decimal" : "integer";
}
