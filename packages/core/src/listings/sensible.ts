import type { Catalogue, Column } from "../filters/index.js";
import { RESERVED_PARAMETERS, type ParameterDeclaration } from "./declaration.js";
import { nameFault } from "./names.js";

/** The column of dates that a listing speaks of where it names none: the only one that there is. */
export function onlyDate(columns: Catalogue): string | null {
  const [first, another] = [...columns.values()].filter(({ type }) => type === "date");
  return first === undefined || another !== undefined ? null : first.name;
}

/** Columns of text into which a search looks at most. */
export const MAX_SEARCHED = 20;

/** What is added to names that are no use by themselves, such as `order-in`. */
const ADDED = "-in";

/**
 * A name for a parameter over a column, none of those that are taken in whatever case: the column's
 * own where it can be one, or else what is left of it in small letters, digits and `-`.
 */
export function parameterName(column: string, taken: Iterable<string>): string {
  const used = new Set([...RESERVED_PARAMETERS, "from", "to", ...taken].map(lowerOf));
  const plain = column
    .normalize("NFKD")
    .replaceAll(/\p{M}/gu, "")
    // There and back, since letters such as ß have their plain form in capitals.
    .toUpperCase()
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^[^a-z]+|-$/g, "")
    .slice(0, LONGEST_STEM);
  const stem = plain === "" ? "column" : plain;
  const isFree = (name: string) => nameFault(name, "") === null && !used.has(lowerOf(name));
  const named = [column, stem, `${stem}${ADDED}`].find(isFree);
  if (named !== undefined) return named;
  let count = 2;
  while (!isFree(`${stem}-${count}`)) count++;
  return `${stem}-${count}`;
}

/** Characters of a column's name that go into a derived one: room is left for what is added. */
const LONGEST_STEM = 50;

function lowerOf(name: string): string {
  return name.toLowerCase();
}

/**
 * The parameters of a listing that declares none: `from` and `to` of its main date, as fine as that
 * is, one for every column shown: by its name, or one that is made of it ({@link parameterName})
 * with the column's name as its label, and `find`, which looks for words in those of text: up to
 * {@link MAX_SEARCHED} of them.
 *
 * @param few the text columns whose values are few: they are chosen from.
 */
export function defaultParameters(
  mainDate: string,
  shown: readonly string[],
  columns: Catalogue,
  few: ReadonlySet<string> = new Set(),
): readonly ParameterDeclaration[] {
  const main = columns.get(mainDate);
  const hasTimes = main?.type === "date" && main.kind !== "date";
  const type = hasTimes ? "datetime" : "date";
  const date = { type, column: mainDate, pair: mainDate, blanks: "exclude" } as const;
  const pair: readonly ParameterDeclaration[] = [
    { ...date, name: "from", comparison: "from" },
    { ...date, name: "to", comparison: "to" },
  ];
  const over = shown.flatMap((name) => columns.get(name) ?? []);
  // Whoever can have the name of the column has it, whatever is made of the others.
  const own = over.map(({ name }) => name).filter((name) => parameterName(name, []) === name);
  const taken: string[] = [];
  const ofColumns = over.map((column) => {
    const others = own.filter((each) => each !== column.name);
    const name = parameterName(column.name, [...taken, ...others]);
    taken.push(name);
    return parameterFor(column, name, few.has(column.name));
  });
  const searched = over.filter((column) => column.type === "text").map(({ name }) => name);
  // Of more columns a search would look into some, and nobody would expect that.
  const isSearched = searched.length > 0 && searched.length <= MAX_SEARCHED;
  return [...pair, ...ofColumns, ...(isSearched ? [searchIn(searched, taken)] : [])];
}

/** The parameter that looks for words in several columns. */
function searchIn(columns: readonly string[], taken: readonly string[]): ParameterDeclaration {
  const name = parameterName("find", taken);
  return { name, type: "search", columns, comparison: "contains", blanks: "exclude" };
}

/** The parameter that fits a column: a window, a range, yes or no, some of few values, a part of a text. */
export function parameterFor(
  { name: column, type }: Column,
  name: string,
  isOfFew = false,
): ParameterDeclaration {
  const label = name === column ? {} : { label: column };
  const common = { name, column, ...label, blanks: "exclude" } as const;
  switch (type) {
    case "date":
      return { ...common, type: "window", comparison: "on" };
    case "integer":
    case "decimal":
      return { ...common, type: "range", comparison: "within" };
    case "boolean":
      return { ...common, type: "boolean", comparison: "is" };
    case "text":
      return isOfFew
        ? { ...common, type: "several", comparison: "among" }
        : { ...common, type: "text", comparison: "contains" };
  }
}
