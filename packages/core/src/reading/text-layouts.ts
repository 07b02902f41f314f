import { isUtc } from "../calendar/index.js";
import { ENGLISH, bareName, namesOf, normalText, type DateNames, type NameTable } from "./names.js";
import { parsePattern, type Field, type PatternPiece } from "./pattern-text.js";
import type { Reading } from "./reading.js";

/** A part of a date in a text, at a place of its own. */
export interface PlacedPart {
  readonly field: Field;
  /** Where it begins, counted from 0 in characters. */
  readonly at: number;
  readonly width: number;
  /** The names of this width that may stand there, each with its number; absent for digits. */
  readonly names?: readonly { readonly name: string; readonly number: number }[];
  /** Whether nothing stands there that could be left out: 10 of `d`, and not 01; minutes of `X`, and not 00. */
  readonly isUnpadded?: boolean;
}

/** A form of a pattern's text in which every part has a place and a width. */
export interface TextLayout {
  /** The characters of such a text in order; null where a part stands. */
  readonly characters: readonly (string | null)[];
  readonly parts: ReadonlyMap<Field, PlacedPart>;
  /** How a UTC offset is written that it has: as none, in the digits of a part, or by the name of the reading's zone. */
  readonly offset: "none" | "digits" | "zone" | null;
  /** Whether the digits of an offset may be zero: `+00:00`. */
  readonly takesZeroOffset: boolean;
  /** Months that such a text names; 0 where it names a day. */
  readonly months: number;
}

/** Forms of one pattern at most. */
const MAX_LAYOUTS = 250;

/**
 * Every form that a text can have which is spelled just as a pattern writes it (see {@link Reading.exact}): one for
 * `dd/MM/yyyy`, two for `d MMM yyyy`. A text says why there is none.
 */
export function textLayoutsOf(
  pattern: string,
  { locales = [], twoDigitYearFrom, partial, zone = "UTC" }: Reading,
): readonly TextLayout[] | string {
  const found = namesOf(locales);
  const names = found.ok ? found.value : ENGLISH;
  const locale = locales[0] ?? "en";
  const pieces = parsePattern(pattern, {
    hasPivot: twoDigitYearFrom !== undefined,
    isWrittenOnly: false,
    isPartial: partial !== undefined,
  });
  if (typeof pieces === "string") return pieces;
  const fields = new Set(pieces.map(({ field }) => field));
  let layouts: readonly TextLayout[] = [
    {
      characters: [],
      parts: new Map(),
      offset: null,
      takesZeroOffset: false,
      months: monthsOf(fields),
    },
  ];
  for (const piece of pieces) {
    const ways = piece.field === "zone" ? [zoneWay(zone)] : waysOf(piece, names, locale);
    if (layouts.length * ways.length > MAX_LAYOUTS) {
      return `its strings have more than ${MAX_LAYOUTS} forms`;
    }
    layouts = layouts.flatMap((layout) => ways.map((way) => withPart(layout, way)));
  }
  return layouts;
}

function monthsOf(fields: ReadonlySet<Field | undefined>): number {
  if (["day", "dayOfYear", "week"].some((field) => fields.has(field as Field))) return 0;
  if (fields.has("month")) return 1;
  return fields.has("quarter") ? 3 : 12;
}

/** One way in which a piece of a pattern is written. */
interface Way {
  /** What stands there as it is, before a part if there is one. */
  readonly literal?: string;
  readonly part?: Omit<PlacedPart, "at">;
  readonly offset?: TextLayout["offset"];
  readonly takesZeroOffset?: boolean;
}

function withPart(layout: TextLayout, { literal, part, offset, takesZeroOffset }: Way): TextLayout {
  const { characters, parts } = layout;
  const before = [...characters, ...Array.from(literal ?? "")];
  return {
    ...layout,
    characters: [...before, ...places(part?.width ?? 0)],
    parts:
      part === undefined
        ? parts
        : new Map([...parts, [part.field, { ...part, at: before.length }]]),
    offset: offset ?? layout.offset,
    takesZeroOffset: takesZeroOffset ?? layout.takesZeroOffset,
  };
}

function places(width: number): readonly null[] {
  return Array.from({ length: width }, () => null);
}

/** A text names the zone of its reading: it is read as it would be written. */
function zoneWay(zone: string): Way {
  return { literal: zone, offset: isUtc(zone) ? "none" : "zone" };
}

function waysOf(piece: PatternPiece, names: DateNames, locale: string): readonly Way[] {
  const { field, width, literal } = piece;
  const named = (of: Field, table: NameTable, wide = table) =>
    namesOfTable(of, table, wide, locale);
  switch (field) {
    case undefined:
      return [{ literal }];
    case "era":
      return [{ literal: "AD" }];
    case "month":
      if (width < 3) return digits(field, width, 2);
      return width === 3
        ? named(field, names.abbreviatedMonths, names.wideMonths)
        : named(field, names.wideMonths);
    case "weekdayName":
      return width === 4
        ? named(field, names.wideWeekdays)
        : named(field, names.abbreviatedWeekdays, names.wideWeekdays);
    case "half":
      return named(field, names.halves);
    case "offset":
      return offsets(piece);
    case "year":
      return [{ part: { field, width: width === 2 ? 2 : 4 } }];
    case "weekYear":
      return [{ part: { field, width: 4 } }];
    case "dayOfYear":
      return digits(field, width, 3);
    case "quarter":
    case "weekday":
    case "fraction":
      return [{ part: { field, width } }];
    default:
      return digits(field, width, 2);
  }
}

/** A number of a width, or of one letter: as many digits as it takes. */
function digits(field: Field, width: number, most: number): readonly Way[] {
  if (width > 1) return [{ part: { field, width } }];
  return Array.from({ length: most }, (_, index) => ({
    part: { field, width: index + 1, ...(index > 0 ? { isUnpadded: true } : {}) },
  }));
}

/** Names by their widths, since what is behind them stands where they end; without those that are read as none. */
function namesOfTable(
  field: Field,
  table: NameTable,
  wide: NameTable,
  locale: string,
): readonly Way[] {
  const byWidth = new Map<number, { readonly name: string; readonly number: number }[]>();
  for (const name of table.written) {
    const bare = bareName(normalText(name, locale));
    const number = wide.numbers.get(bare) ?? table.numbers.get(bare);
    if (number === undefined) continue;
    const width = Array.from(name).length;
    const alike = byWidth.get(width) ?? [];
    alike.push({ name, number });
    byWidth.set(width, alike);
  }
  return [...byWidth].map(([width, alike]) => ({ part: { field, width, names: alike } }));
}

function offsets(piece: PatternPiece): readonly Way[] {
  const { width, isZeroInDigits = false, isGmt = false } = piece;
  const widths = width === 1 ? [3, 5] : [width === 3 ? 6 : 5];
  const inDigits = widths.map((each): Way => ({
    ...(isGmt ? { literal: "GMT" } : {}),
    part: {
      field: "offset",
      width: each,
      ...(width === 1 && each === 5 ? { isUnpadded: true } : {}),
    },
    offset: "digits",
    takesZeroOffset: isZeroInDigits,
  }));
  if (isZeroInDigits) return inDigits;
  return [{ literal: isGmt ? "GMT" : "Z", offset: "none" }, ...inDigits];
}
