import { readFileSync } from "node:fs";

/** A phrase with what it means at every clock in every zone, clocks first. */
export interface PhraseRow {
  readonly phrase: string;
  readonly locale?: string;
  /** The code of its fault. */
  readonly refused?: string;
  /** Its windows, the same everywhere or at each of the clocks and zones. */
  readonly means?: readonly string[] | readonly (readonly string[])[];
  /** The local days of its windows: the first and the day after the last, `..` for an open edge, `none` for no moment. */
  readonly days?: readonly string[] | readonly (readonly string[])[];
}

/** What a row expects at one clock in one zone. */
export interface PhraseCase {
  readonly phrase: string;
  readonly locale: string;
  readonly asOf: string;
  readonly zone: string;
  readonly refused: string | null;
  readonly means: readonly string[];
  readonly days: readonly string[] | null;
}

const [HEAD = "", ...LINES] = readFileSync(
  new URL("../packages/core/src/windows/phrases/phrases.jsonl", import.meta.url),
  "utf8",
)
  .trimEnd()
  .split("\n");

const { clocks, zones } = JSON.parse(HEAD) as {
  readonly clocks: readonly string[];
  readonly zones: readonly string[];
};

export const PHRASE_ROWS = LINES.map((line) => JSON.parse(line) as PhraseRow);

/** The table of phrases at each of its clocks in each of its zones. */
export const PHRASE_CASES: readonly PhraseCase[] = PHRASE_ROWS.flatMap((row) =>
  clocks.flatMap((asOf, clock) =>
    zones.map((zone, at) => ({
      phrase: row.phrase,
      locale: row.locale ?? "en",
      asOf,
      zone,
      refused: row.refused ?? null,
      means: everywhere(row.means ?? [], clock * zones.length + at),
      days: row.days === undefined ? null : everywhere(row.days, clock * zones.length + at),
    })),
  ),
);

function everywhere(
  values: readonly string[] | readonly (readonly string[])[],
  place: number,
): readonly string[] {
  return values.flatMap((each, at) =>
    typeof each === "string" ? [each] : at === place ? each : [],
  );
}
