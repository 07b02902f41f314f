/** The text of a number without exponent and needless zeros: `-12`, `3.5`. */
export type Decimal = string;

/** No more digits than a database compares exactly. */
const PLAIN = /^[+-]?\d{1,30}(?:\.\d{1,30})?$/;

/**
 * A number in its one spelling, without needless zeros; null for a text that is none, or has more
 * than 30 digits before or after the point.
 */
export function decimalOf(text: string): Decimal | null {
  const trimmed = withoutExponent(text.trim());
  if (!PLAIN.test(trimmed)) return null;
  const sign = trimmed.startsWith("-") ? "-" : "";
  const [whole = "", fraction = ""] = trimmed.replace(/^[+-]/, "").split(".");
  const digits = whole.replace(/^0+(?=\d)/, "");
  const rest = fraction.replace(/0+$/, "");
  const size = rest === "" ? digits : `${digits}.${rest}`;
  return size === "0" ? "0" : sign + size;
}

const EXPONENT = /^([+-]?)(\d{1,60})(?:\.(\d{1,60}))?e([+-]?\d{1,2})$/i;

/** `1.5e-3` as `0.0015`; any other text as it is. */
function withoutExponent(text: string): string {
  const match = EXPONENT.exec(text);
  if (match === null) return text;
  const [, sign = "", whole = "", fraction = "", exponent = "0"] = match;
  const point = whole.length + Number(exponent);
  const digits = `${"0".repeat(Math.max(0, 1 - point))}${whole}${fraction}`;
  const at = Math.max(1, point);
  const padded = digits.padEnd(at, "0");
  const rest = padded.slice(at);
  return `${sign}${padded.slice(0, at)}${rest === "" ? "" : `.${rest}`}`;
}

/** Less than zero, zero or more, as the first number is less than, equal to or more than the second. */
export function compareDecimals(a: Decimal, b: Decimal): number {
  const [signA, signB] = [a.startsWith("-"), b.startsWith("-")];
  if (signA !== signB) return signA ? -1 : 1;
  const size = compareSizes(a.replace("-", ""), b.replace("-", ""));
  return signA ? -size : size;
}

function compareSizes(a: string, b: string): number {
  const [wholeA = "", fractionA = ""] = a.split(".");
  const [wholeB = "", fractionB = ""] = b.split(".");
  if (wholeA.length !== wholeB.length) return wholeA.length - wholeB.length;
  if (wholeA !== wholeB) return wholeA < wholeB ? -1 : 1;
  const length = Math.max(fractionA.length, fractionB.length);
  const [padA, padB] = [fractionA.padEnd(length, "0"), fractionB.padEnd(length, "0")];
  return padA === padB ? 0 : padA < padB ? -1 : 1;
}

const DIGITS = /^([+-]?)(\d+)(?:\.(\d+))?$/;

/** A number as so many of a decimal part; 0 for a text that is none. */
function parts(number: string, decimals: number): bigint {
  const [, sign = "", whole = "0", fraction = ""] = DIGITS.exec(withoutExponent(number)) ?? [];
  const size = BigInt(whole + fraction.padEnd(decimals, "0"));
  return sign === "-" ? -size : size;
}

function decimalsOf(number: string): number {
  return DIGITS.exec(withoutExponent(number))?.[3]?.length ?? 0;
}

function written(size: bigint, decimals: number): Decimal {
  const digits = String(size < 0n ? -size : size).padStart(decimals + 1, "0");
  const at = digits.length - decimals;
  const rest = digits.slice(at).replace(/0+$/, "");
  const text = digits.slice(0, at) + (rest === "" ? "" : `.${rest}`);
  return size < 0n ? `-${text}` : text;
}

/** The sum of two numbers, exactly, however many digits they have. */
export function addDecimals(a: Decimal, b: Decimal): Decimal {
  const decimals = Math.max(decimalsOf(a), decimalsOf(b));
  return written(parts(a, decimals) + parts(b, decimals), decimals);
}

/** A number divided by a count above 0, to so many decimals; half is rounded away from 0. */
export function divideDecimal(a: Decimal, count: number, decimals: number): Decimal {
  const more = Math.max(decimals, decimalsOf(a)) + 1;
  const doubled = 2n * parts(a, more);
  const unit = BigInt(count) * 10n ** BigInt(more - decimals);
  const half = doubled < 0n ? -unit : unit;
  return written((doubled + half) / (2n * unit), decimals);
}
