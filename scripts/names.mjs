/**
 * `node scripts/names.mjs`: makes packages/core/src/reading/names.generated.ts, the names of
 * months, weekdays and halves of the day, from the CLDR data of this Node's own ICU. The table
 * is committed, because the data of a browser or another Node may differ.
 */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT } from "./bootstrap.mjs";

/** Languages, each with the regions whose spellings differ. */
const LOCALES = {
  en: ["en", "en-GB"],
  de: ["de"],
  fr: ["fr"],
  es: ["es", "es-MX"],
  it: ["it"],
  pt: ["pt", "pt-PT"],
  nl: ["nl"],
  pl: ["pl"],
  sv: ["sv"],
  cs: ["cs"],
  tr: ["tr"],
  ja: ["ja"],
};
const FILE = "packages/core/src/reading/names.generated.ts";

/** Every spelling of one part of a date: within a date and alone, wide and abbreviated. */
function spellings(locale, part, date, formats) {
  const found = LOCALES[locale].flatMap((region) =>
    formats.map((options) => {
      const format = new Intl.DateTimeFormat(region, {
        ...options,
        timeZone: "UTC",
        calendar: "gregory",
      });
      return format.formatToParts(date).find(({ type }) => type === part)?.value ?? "";
    }),
  );
  // Numbers are no names: Japanese writes its abbreviated months so.
  return [...new Set(found)].filter((name) => name !== "" && !/^\d+$/.test(name));
}

function monthsOf(locale) {
  return Array.from({ length: 12 }, (_, month) => {
    const date = new Date(Date.UTC(2023, month, 15));
    const wide = spellings(locale, "month", date, [
      { day: "numeric", month: "long" },
      { day: "numeric", month: "long", year: "numeric" },
      { month: "long" },
    ]);
    const abbreviated = spellings(locale, "month", date, [
      { day: "numeric", month: "short" },
      { day: "numeric", month: "short", year: "numeric" },
      { month: "short" },
    ]);
    const own = wide.length > 0 ? wide : [`${month + 1}月`];
    return { wide: own, abbreviated: abbreviated.length > 0 ? abbreviated : own };
  });
}

function weekdaysOf(locale) {
  // 2 January 2023 was a Monday.
  return Array.from({ length: 7 }, (_, day) => {
    const date = new Date(Date.UTC(2023, 0, 2 + day));
    return {
      wide: spellings(locale, "weekday", date, [
        { weekday: "long" },
        { weekday: "long", day: "numeric", month: "long" },
      ]),
      abbreviated: spellings(locale, "weekday", date, [
        { weekday: "short" },
        { weekday: "short", day: "numeric", month: "short" },
      ]),
    };
  });
}

function halvesOf(locale) {
  return [9, 15].map((hour) =>
    spellings(locale, "dayPeriod", new Date(Date.UTC(2023, 0, 2, hour)), [
      { hour: "numeric", hour12: true },
      { hour: "numeric", minute: "numeric", hourCycle: "h12" },
    ]),
  );
}

/** The file's text, without its formatting. */
export function namesFile() {
  const table = Object.fromEntries(
    Object.keys(LOCALES).map((locale) => [
      locale,
      { months: monthsOf(locale), weekdays: weekdaysOf(locale), halves: halvesOf(locale) },
    ]),
  );
  return (
    `// Made by scripts/names.mjs from CLDR ${process.versions.cldr}; do not change by hand.\n\n` +
    `/** The version of the CLDR that the names come from. */\n` +
    `export const CLDR_VERSION = ${JSON.stringify(process.versions.cldr)};\n\n` +
    `/** The names of each locale: months from January, weekdays from Monday, before and after noon. */\n` +
    `export const NAMES = ${JSON.stringify(table)} as const;\n`
  );
}

if (process.argv[1] === import.meta.filename) writeFileSync(join(ROOT, FILE), namesFile());
