/**
 * `node scripts/names.mjs`: makes the names of months, weekdays and halves of the day in every
 * language, from the CLDR data of this Node's own ICU: a file of the languages that are always
 * there, and one of all others. They are committed, because the data of a browser or another Node
 * may differ.
 */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT } from "./bootstrap.mjs";

const FOLDER = "packages/core/src/reading";
/** The languages that the core always has: those in which phrases are read. */
const OWN = ["en", "de", "fr", "es", "it", "nl", "pl", "pt"];
/** Writing systems that some language has beside its usual one. */
const SCRIPTS =
  "Adlm Arab Beng Cyrl Deva Ethi Grek Guru Hans Hant Hebr Latn Mong Mtei Olck Orya Telu Tfng Vaii".split(
    " ",
  );
const LETTERS = [..."abcdefghijklmnopqrstuvwxyz"];
/** Every spelling is of these: Gregorian dates with plain digits. */
const SETTINGS = { timeZone: "UTC", calendar: "gregory", numberingSystem: "latn" };

const MONTHS = Array.from({ length: 12 }, (_, month) => new Date(Date.UTC(2023, month, 15)));
// 2 January 2023 was a Monday.
const WEEKDAYS = Array.from({ length: 7 }, (_, day) => new Date(Date.UTC(2023, 0, 2 + day)));
const HALVES = [9, 15].map((hour) => new Date(Date.UTC(2023, 0, 2, hour)));

/** Whether this Node has data of its own for a locale, and does not take another's. */
function isKnown(tag) {
  try {
    return new Intl.DateTimeFormat(tag).resolvedOptions().locale === tag;
  } catch {
    return false;
  }
}

/** Every language that there is data for, each with its scripts and regions: some seconds of work. */
function everyLocale() {
  const pairs = LETTERS.flatMap((one) => LETTERS.map((two) => one + two));
  const codes = [...pairs, ...pairs.flatMap((pair) => LETTERS.map((letter) => pair + letter))];
  const named = new Intl.DisplayNames("en", { type: "region", fallback: "none" });
  const regions = [
    ...pairs.map((pair) => pair.toUpperCase()).filter((region) => named.of(region)),
    "419",
  ];
  const languages = Intl.DateTimeFormat.supportedLocalesOf(codes).filter(
    (code) => /^[a-z]+$/.test(code) && isKnown(code),
  );
  return Object.fromEntries(
    languages.sort().map((language) => {
      const written = SCRIPTS.map((script) => `${language}-${script}`).filter(isKnown);
      const bases = [language, ...written];
      const regional = bases.flatMap((base) => regions.map((region) => `${base}-${region}`));
      return [language, [...bases, ...regional.filter(isKnown)]];
    }),
  );
}

/** Every spelling of one part of some dates, the language's own first: within a date and alone. */
function spellings(locales, part, dates, options) {
  const formats = locales.flatMap((locale) =>
    options.map((each) => new Intl.DateTimeFormat(locale, { ...SETTINGS, ...each })),
  );
  return dates.map((date) => {
    const found = formats.map(
      (format) => format.formatToParts(date).find(({ type }) => type === part)?.value ?? "",
    );
    // Numbers are no names: Japanese writes its abbreviated months so.
    return [...new Set(found)].filter((name) => name !== "" && !/^\p{Nd}+$/u.test(name));
  });
}

/** The names of a language, with the spellings of all its locales. */
export function namesOfLanguage(locales) {
  const wide = spellings(locales, "month", MONTHS, [
    { day: "numeric", month: "long" },
    { day: "numeric", month: "long", year: "numeric" },
    { month: "long" },
  ]).map((names, month) => (names.length > 0 ? names : [`${month + 1}月`]));
  const abbreviated = spellings(locales, "month", MONTHS, [
    { day: "numeric", month: "short" },
    { day: "numeric", month: "short", year: "numeric" },
    { month: "short" },
  ]).map((names, month) => (names.length > 0 ? names : wide[month]));
  return {
    months: wide,
    abbreviatedMonths: abbreviated,
    weekdays: spellings(locales, "weekday", WEEKDAYS, [
      { weekday: "long" },
      { weekday: "long", day: "numeric", month: "long" },
    ]),
    abbreviatedWeekdays: spellings(locales, "weekday", WEEKDAYS, [
      { weekday: "short" },
      { weekday: "short", day: "numeric", month: "short" },
    ]),
    halves: spellings(locales, "dayPeriod", HALVES, [
      { hour: "numeric", hour12: true },
      { hour: "numeric", minute: "numeric", hourCycle: "h12" },
    ]),
    joining: joiningWords(locales),
  };
}

/** The words that stand between the parts of a written date, or behind them: “de”, “г.”. */
function joiningWords(locales) {
  const literals = locales.flatMap((locale) =>
    ["full", "long", "medium"].flatMap((dateStyle) =>
      new Intl.DateTimeFormat(locale, { ...SETTINGS, dateStyle })
        .formatToParts(MONTHS[3])
        .flatMap(({ type, value }) => (type === "literal" || type === "era" ? [value] : [])),
    ),
  );
  return [...new Set(literals.flatMap((text) => text.match(/[\p{L}\p{M}][\p{L}\p{M}.]*/gu) ?? []))];
}

/** A file's text, without its formatting. */
function fileOf(name, doc, entries) {
  const lines = entries.map(([language, names]) => {
    const text = JSON.stringify(names).replaceAll("\\", "\\\\").replaceAll("'", "\\'");
    return `  ${language}: '${text}',\n`;
  });
  return (
    `// Made by scripts/names.mjs from CLDR ${process.versions.cldr}; do not change by hand.\n\n` +
    `/** ${doc} */\nexport const ${name}: Readonly<Record<string, string>> = {\n${lines.join("")}};\n`
  );
}

function writeFiles() {
  const entries = Object.entries(everyLocale()).map(([language, locales]) => {
    const names = namesOfLanguage(locales);
    // Only the locales that add a spelling are worth being asked again.
    let so = JSON.stringify(namesOfLanguage([language]));
    const telling = [language];
    for (const locale of locales.slice(1)) {
      const now = JSON.stringify(namesOfLanguage([...telling, locale]));
      if (now !== so) telling.push(locale);
      so = now;
    }
    return [language, { locales: telling, ...names }];
  });
  const own = OWN.map((each) => entries.find(([language]) => language === each));
  const others = entries.filter(([language]) => !OWN.includes(language));
  const version = `/** The version of the CLDR that the names come from. */\nexport const CLDR_VERSION = ${JSON.stringify(process.versions.cldr)};\n`;
  const files = {
    "names.generated.ts":
      fileOf("OWN_NAMES", "The names of the languages that are always there, as JSON.", own) +
      `\n${version}`,
    "all-names.generated.ts": fileOf(
      "OTHER_NAMES",
      "The names of all other languages of the CLDR, as JSON.",
      others,
    ),
  };
  for (const [name, text] of Object.entries(files)) writeFileSync(join(ROOT, FOLDER, name), text);
}

if (process.argv[1] === import.meta.filename) writeFiles();
