import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { UTC, epochMs } from "../../calendar/index.js";
import { ENGLISH, namesOf } from "../../reading/index.js";
import { PHRASE_LOCALES, type PhraseLocale } from "./languages.js";
import { readPhrase } from "./read.js";

/** Wednesday, 25 November 2026. */
const ASKED = { asOf: epochMs(Date.UTC(2026, 10, 25, 9)), zone: UTC };

function read(text: string, locale: string): string {
  const found = readPhrase(text, { ...ASKED, locale });
  return found.ok ? found.value.join(" or ") : String(found.faults[0]?.code);
}

/** What is said in every language, as a window, and how it is said in each. */
const SAID: readonly (readonly [window: string, said: Readonly<Record<PhraseLocale, string>>])[] = [
  [
    "today",
    {
      de: "heute",
      fr: "aujourd'hui",
      es: "hoy",
      it: "oggi",
      nl: "vandaag",
      pl: "dzisiaj",
      pt: "hoje",
    },
  ],
  [
    "yesterday",
    {
      de: "gestern",
      fr: "hier",
      es: "ayer",
      it: "ieri",
      nl: "gisteren",
      pl: "wczoraj",
      pt: "ontem",
    },
  ],
  [
    "tomorrow",
    {
      de: "morgen",
      fr: "demain",
      es: "mañana",
      it: "domani",
      nl: "morgen",
      pl: "jutro",
      pt: "amanhã",
    },
  ],
  [
    "month-1",
    {
      de: "letzten Monat",
      fr: "le mois dernier",
      es: "el mes pasado",
      it: "il mese scorso",
      nl: "vorige maand",
      pl: "zeszły miesiąc",
      pt: "o mês passado",
    },
  ],
  [
    "week+1",
    {
      de: "nächste Woche",
      fr: "la semaine prochaine",
      es: "la próxima semana",
      it: "la prossima settimana",
      nl: "volgende week",
      pl: "następny tydzień",
      pt: "a próxima semana",
    },
  ],
  [
    "year",
    {
      de: "dieses Jahr",
      fr: "cette année",
      es: "este año",
      it: "quest'anno",
      nl: "dit jaar",
      pl: "ten rok",
      pt: "este ano",
    },
  ],
  [
    "month-3/month-1",
    {
      de: "die letzten drei Monate",
      fr: "les trois derniers mois",
      es: "los últimos 3 meses",
      it: "gli ultimi tre mesi",
      nl: "de laatste 3 maanden",
      pl: "ostatnie 3 miesiące",
      pt: "os últimos três meses",
    },
  ],
  [
    "week+1/week+2",
    {
      de: "die nächsten 2 Wochen",
      fr: "les 2 prochaines semaines",
      es: "las próximas dos semanas",
      it: "le prossime 2 settimane",
      nl: "de komende twee weken",
      pl: "następne 2 tygodnie",
      pt: "as próximas 2 semanas",
    },
  ],
  [
    "day-3",
    {
      de: "vor 3 Tagen",
      fr: "il y a trois jours",
      es: "hace 3 días",
      it: "3 giorni fa",
      nl: "3 dagen geleden",
      pl: "3 dni temu",
      pt: "há 3 dias",
    },
  ],
  [
    "today+P2W",
    {
      de: "in zwei Wochen",
      fr: "dans 2 semaines",
      es: "en 2 semanas",
      it: "tra due settimane",
      nl: "over 2 weken",
      pl: "za 2 tygodnie",
      pt: "em duas semanas",
    },
  ],
  [
    "2026-11-23/..",
    {
      de: "seit Montag",
      fr: "depuis lundi",
      es: "desde el lunes",
      it: "da lunedì",
      nl: "sinds maandag",
      pl: "od poniedziałku",
      pt: "desde segunda-feira",
    },
  ],
  [
    "../2026-11-27",
    {
      de: "bis Freitag",
      fr: "jusqu'à vendredi",
      es: "hasta el viernes",
      it: "fino a venerdì",
      nl: "tot en met vrijdag",
      pl: "do piątku",
      pt: "até sexta-feira",
    },
  ],
  [
    "2025-04-03",
    {
      de: "3. April 2025",
      fr: "3 avril 2025",
      es: "3 de abril de 2025",
      it: "3 aprile 2025",
      nl: "3 april 2025",
      pl: "3 kwietnia 2025",
      pt: "3 de abril de 2025",
    },
  ],
  [
    "2025-04",
    {
      de: "April 2025",
      fr: "avril 2025",
      es: "abril de 2025",
      it: "aprile 2025",
      nl: "april 2025",
      pl: "kwiecień 2025",
      pt: "abril de 2025",
    },
  ],
  [
    "2025-Q2",
    {
      de: "2. Quartal 2025",
      fr: "T2 2025",
      es: "T2 2025",
      it: "T2 2025",
      nl: "K2 2025",
      pl: "2 kwartał 2025",
      pt: "2º trimestre de 2025",
    },
  ],
  [
    "2025-04-03/2025-05-05",
    {
      de: "zwischen dem 3. April und dem 5. Mai 2025",
      fr: "entre le 3 avril et le 5 mai 2025",
      es: "entre el 3 de abril y el 5 de mayo de 2025",
      it: "tra il 3 aprile e il 5 maggio 2025",
      nl: "tussen 3 april en 5 mei 2025",
      pl: "między 3 kwietnia a 5 maja 2025",
      pt: "entre 3 de abril e 5 de maio de 2025",
    },
  ],
  [
    "2025-04-03/2025-04-05",
    {
      de: "vom 3. bis 5. April 2025",
      fr: "du 3 au 5 avril 2025",
      es: "del 3 al 5 de abril de 2025",
      it: "dal 3 al 5 aprile 2025",
      nl: "van 3 tot en met 5 april 2025",
      pl: "od 3 do 5 kwietnia 2025",
      pt: "de 3 a 5 de abril de 2025",
    },
  ],
  [
    "../2025-03-31",
    {
      de: "vor April 2025",
      fr: "avant avril 2025",
      es: "antes de abril de 2025",
      it: "prima di aprile 2025",
      nl: "voor april 2025",
      pl: "przed 1 kwietnia 2025",
      pt: "antes de abril de 2025",
    },
  ],
  [
    "2026/..",
    {
      de: "nach 2025",
      fr: "après 2025",
      es: "después de 2025",
      it: "dopo il 2025",
      nl: "na 2025",
      pl: "po 2025",
      pt: "depois de 2025",
    },
  ],
];

const ROWS = SAID.flatMap(([window, said]) =>
  PHRASE_LOCALES.map((locale) => [locale, said[locale], window] as const),
);

describe("a phrase of another language", () => {
  test.each(ROWS)("in %s: %s is %s", (locale, text, window) => {
    const found = read(text, locale);
    // Before a month is the end of the month before, or of its last day: the same.
    expect(found === "../2025-03" ? "../2025-03-31" : found).toBe(window);
  });

  test.each(PHRASE_LOCALES)("in %s has all months, weekdays and English beside", (locale) => {
    const names = namesOf([locale]);
    const months = names.ok ? names.value.wideMonths.written : [];
    expect(months.map((name) => read(`3 ${name} 2025`, locale))).toEqual(
      months.map((_, at) => `2025-${String(at + 1).padStart(2, "0")}-03`),
    );
    const weekdays = names.ok ? names.value.wideWeekdays.written : [];
    expect(weekdays.map((name) => read(name, locale))).toEqual(
      ENGLISH.wideWeekdays.written.map((name) => read(name, "en")),
    );
    expect(read("last 3 months", locale)).toBe("month-3/month-1");
    expect(read("month-1/now", locale)).toBe("month-1/now");
  });

  test("that it has not is refused, in another language too, and nothing is guessed", () => {
    expect(read("le mois dernier", "de")).toBe("phrase.unknown");
    expect(read("letzten Monat", "en")).toBe("phrase.unknown");
    expect(read("3/4/2025", "fr")).toBe("2025-04-03 or 2025-03-04");
    expect(read("Montag, 3. April 2025", "de")).toBe("phrase.weekday");
    expect(read("31. Februar 2025", "de")).toBe("date.impossible");
    expect(read("die letzten 0 Tage", "de")).toBe("phrase.nothing");
    expect(read("letzten Monat", "de-AT")).toBe("month-1");
    expect(read("förra månaden", "sv")).toBe("phrase.locale");
  });

  test("of any words at all is read or refused, in bounded time", () => {
    const words = fc.constantFrom(...ROWS.flatMap(([, text]) => text.split(" ")), "1", "99");
    fc.assert(
      fc.property(
        fc.array(words, { maxLength: 40 }),
        fc.constantFrom(...PHRASE_LOCALES),
        (some, locale) => {
          expect(typeof read(some.join(" "), locale)).toBe("string");
        },
      ),
      { numRuns: 200 },
    );
  });
});
