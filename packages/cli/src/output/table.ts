/** A column of a table for people. */
export interface TableColumn {
  readonly heading: string;
  /** Numbers stand at the right, so that their digits line up. */
  readonly right?: boolean;
  /** Never cut short, for messages that must be read to their end. */
  readonly whole?: boolean;
}

/** Characters of a cell at most; longer ones are cut with an ellipsis. */
const WIDEST_CELL = 48;

/**
 * Draws a table of plain text: headings, a rule, rows. Control characters in cells are shown as
 * spaces, so that a value can neither break a row nor command the terminal.
 */
export function drawTable(
  columns: readonly TableColumn[],
  rows: readonly (readonly string[])[],
): string {
  const cells = rows.map((row) =>
    columns.map(({ whole }, index) => shown(row[index] ?? "", whole ?? false)),
  );
  const widths = columns.map(({ heading }, index) =>
    Math.max(heading.length, ...cells.map((row) => widthOf(row[index] ?? ""))),
  );
  const line = (row: readonly string[]) =>
    columns
      .map(({ right }, index) => padded(row[index] ?? "", widths[index] ?? 0, right ?? false))
      .join("  ")
      .trimEnd();
  return [
    line(columns.map(({ heading }) => heading)),
    widths.map((width) => "─".repeat(width)).join("  "),
    ...cells.map(line),
  ]
    .map((each) => `${each}\n`)
    .join("");
}

function shown(value: string, whole: boolean): string {
  // eslint-disable-next-line no-control-regex -- control characters are what is looked for
  const plain = value.replace(/[\u0000-\u001f\u007f-\u009f]+/g, " ");
  return whole || widthOf(plain) <= WIDEST_CELL
    ? plain
    : `${charactersOf(plain)
        .slice(0, WIDEST_CELL - 1)
        .join("")}…`;
}

function padded(text: string, width: number, right: boolean): string {
  const space = " ".repeat(Math.max(0, width - widthOf(text)));
  return right ? space + text : text + space;
}

function widthOf(text: string): number {
  return charactersOf(text).length;
}

const GRAPHEMES = new Intl.Segmenter("en", { granularity: "grapheme" });

/** What a person counts as characters: a letter with its accents is one. */
function charactersOf(text: string): readonly string[] {
  return Array.from(GRAPHEMES.segment(text), ({ segment }) => segment);
}
