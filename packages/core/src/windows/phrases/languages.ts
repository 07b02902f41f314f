import { ENGLISH, namesOf, type NameTable } from "../../reading/index.js";
import { withHyphens } from "../hyphens.js";
import type { Unit } from "../notation.js";

/** The languages in which phrases are read beside English. */
export const PHRASE_LOCALES = ["de", "fr", "es", "it", "nl", "pl", "pt"] as const;
export type PhraseLocale = (typeof PHRASE_LOCALES)[number];

/**
 * The words of a language, as parts of patterns, without accents. `N` stands for a number and `U` for a unit, of which
 * the English is made.
 */
interface Words {
  readonly units: Readonly<Record<Exclude<Unit, "fiscalquarter" | "fiscalyear">, string>>;
  /** One to twelve. */
  readonly numbers: string;
  readonly today: string;
  readonly yesterday: string;
  readonly tomorrow: string;
  readonly beforeYesterday: string;
  readonly afterTomorrow: string;
  readonly now: string;
  readonly last: string;
  readonly next: string;
  readonly current: string;
  readonly ago: string;
  readonly ahead: string;
  readonly since: string;
  readonly until: string;
  readonly before: string;
  readonly after: string;
  readonly between: string;
  readonly and: string;
  readonly from: string;
  readonly to: string;
  /** Words before a period that say no more than that it is meant. */
  readonly during: string;
  /** Words that say nothing: articles. */
  readonly articles: string;
}

const LANGUAGES: Readonly<Record<PhraseLocale, Words>> = {
  de: {
    units: {
      minute: "minuten?",
      hour: "stunden?",
      day: "tage?[ns]?",
      week: "wochen?",
      month: "monat(?:en?|s)?",
      quarter: "quartale?[ns]?",
      year: "jahr(?:en?|es|s)?",
      workday: "(?:arbeits|werk)tage?[ns]?",
    },
    numbers: "eine[nmrs]?|ein zwei drei vier funf sechs sieben acht neun zehn elf zwolf",
    today: "heute",
    yesterday: "gestern",
    tomorrow: "morgen",
    beforeYesterday: "vorgestern",
    afterTomorrow: "ubermorgen",
    now: "jetzt",
    last: "(?:letzte|vergangene|vorige)[nmrs]?",
    next: "(?:nachste|kommende)[nmrs]?",
    current: "(?:diese|aktuelle|laufende)[nmrs]?",
    ago: "vor N U",
    ahead: "in N U",
    since: "seit|ab",
    until: "bis(?: zum| einschliesslich| inklusive)?",
    before: "vor",
    after: "nach",
    between: "zwischen",
    and: "und",
    from: "vo[nm]",
    to: "bis(?: zum)?",
    during: "in den|in der|im|am|wahrend",
    articles: "der|die|das|dem|den|des",
  },
  fr: {
    units: {
      minute: "minutes?",
      hour: "heures?",
      day: "jours?|journees?",
      week: "semaines?",
      month: "mois",
      quarter: "trimestres?",
      year: "ans?|annees?",
      workday: "jours? ouvr(?:es?|ables?)",
    },
    numbers: "une? deux trois quatre cinq six sept huit neuf dix onze douze",
    today: "aujourd hui",
    yesterday: "hier",
    tomorrow: "demain",
    beforeYesterday: "avant hier",
    afterTomorrow: "apres demain",
    now: "maintenant",
    last: "derni(?:er|ere|ers|eres)|passee?s?",
    next: "prochaine?s?|suivante?s?",
    current: "ce|cet|cette|ces|en cours|courante?s?",
    ago: "il y a N U",
    ahead: "dans N U",
    since: "depuis|a partir",
    until: "jusqu (?:a|au|en)",
    before: "avant",
    after: "apres",
    between: "entre",
    and: "et",
    from: "de|du",
    to: "a|au",
    during: "pendant|durant|dans|en|au cours|au",
    articles: "le|la|les|l|de|du|des|d",
  },
  es: {
    units: {
      minute: "minutos?",
      hour: "horas?",
      day: "dias?",
      week: "semanas?",
      month: "mes(?:es)?",
      quarter: "trimestres?",
      year: "anos?",
      workday: "dias? (?:habil(?:es)?|laborables?)",
    },
    numbers: "una?|uno dos tres cuatro cinco seis siete ocho nueve diez once doce",
    today: "hoy",
    yesterday: "ayer",
    tomorrow: "manana",
    beforeYesterday: "anteayer|antes de ayer|antier",
    afterTomorrow: "pasado manana",
    now: "ahora",
    last: "ultim[oa]s?|pasad[oa]s?",
    next: "proxim[oa]s?|siguientes?|que viene",
    current: "est[ea]|est[oa]s|actual(?:es)?",
    ago: "hace N U",
    ahead: "(?:en|dentro de) N U",
    since: "desde|a partir",
    until: "hasta",
    before: "antes",
    after: "despues",
    between: "entre",
    and: "y|e",
    from: "del?|desde",
    to: "al?|hasta",
    during: "durante|en",
    articles: "el|la|los|las|del|de",
  },
  it: {
    units: {
      minute: "minut[oi]",
      hour: "or[ae]",
      day: "giorn[oi]",
      week: "settiman[ae]",
      month: "mes[ei]",
      quarter: "trimestr[ei]",
      year: "ann[oi]",
      workday: "giorn[oi] (?:lavorativ[oi]|ferial[ei])",
    },
    numbers: "una|uno|un due tre quattro cinque sei sette otto nove dieci undici dodici",
    today: "oggi",
    yesterday: "ieri",
    tomorrow: "domani",
    beforeYesterday: "l altro ieri|altro ieri|avantieri|ieri l altro",
    afterTomorrow: "dopodomani",
    now: "adesso|ora",
    last: "ultim[oaie]|scors[oaie]|passat[oaie]",
    next: "prossim[oaie]",
    current: "quest[oaie]?|corrente",
    ago: "N U fa",
    ahead: "(?:tra|fra) N U",
    since: "da|dal|dalla|dall|a partire dal?",
    until: "fino (?:a|al|alla|all)",
    before: "prima",
    after: "dopo",
    between: "tra|fra",
    and: "e",
    from: "da|dal|dalla",
    to: "a|al|alla",
    during: "durante|negli|nelle|nei|nel|in",
    articles: "il|lo|la|i|gli|le|l|di|del|dello|della|dei|degli|delle|dell",
  },
  nl: {
    units: {
      minute: "minu(?:ut|ten)",
      hour: "u(?:ur|ren)",
      day: "dag(?:en)?",
      week: "we(?:ek|ken)",
      month: "maand(?:en)?",
      quarter: "kwarta(?:al|len)",
      year: "ja(?:ar|ren)",
      workday: "werkdag(?:en)?",
    },
    numbers: "een twee drie vier vijf zes zeven acht negen tien elf twaalf",
    today: "vandaag",
    yesterday: "gisteren",
    tomorrow: "morgen",
    beforeYesterday: "eergisteren",
    afterTomorrow: "overmorgen",
    now: "nu",
    last: "laatste|afgelopen|vorige?|verleden",
    next: "komende?|volgende?",
    current: "deze|dit|huidige?",
    ago: "N U geleden",
    ahead: "over N U",
    since: "sinds|vanaf",
    until: "tot(?: en met)?",
    before: "voor",
    after: "na",
    between: "tussen",
    and: "en",
    from: "van",
    to: "tot(?: en met)?",
    during: "tijdens|gedurende|in|op",
    articles: "de|het|van",
  },
  pl: {
    units: {
      minute: "minut[aye]?",
      hour: "godzin[aye]?",
      day: "dzien|dni|dnia",
      week: "tydzien|tygodni[ea]?|tygodniu",
      month: "miesi[ae]c[ae]?|miesiecy|miesiacu",
      quarter: "kwartał(?:y|ow|u)?",
      year: "rok|roku|lata|lat",
      workday: "(?:dzien|dni|dnia) robocz(?:y|e|ych|ego)",
    },
    numbers:
      "jeden dwa|dwie trzy cztery piec szesc siedem osiem dziewiec dziesiec jedenascie dwanascie",
    today: "dzis|dzisiaj",
    yesterday: "wczoraj",
    tomorrow: "jutro",
    beforeYesterday: "przedwczoraj",
    afterTomorrow: "pojutrze",
    now: "teraz",
    last: "ostatni(?:e|ch|ego|m|a)?|zeszł(?:y|a|e|ego|ym)|poprzedni(?:e|ch|ego|m|a)?|ubiegł(?:y|a|e|ego|ym)",
    next: "nastepn(?:y|e|a|ych|ego|ym)|przyszł(?:y|a|e|ego|ym)|najblizsz(?:y|e|ych)",
    current: "ten|to|tym|tego|biezac(?:y|a|e|ym)",
    ago: "N U temu",
    ahead: "za N U",
    since: "od",
    until: "do(?: konca)?",
    before: "przed",
    after: "po",
    between: "miedzy|pomiedzy",
    and: "a|i",
    from: "od",
    to: "do",
    during: "w ciagu|w|podczas",
    articles: "r",
  },
  pt: {
    units: {
      minute: "minutos?",
      hour: "horas?",
      day: "dias?",
      week: "semanas?",
      month: "mes(?:es)?",
      quarter: "trimestres?",
      year: "anos?",
      workday: "dia util|dias uteis",
    },
    numbers: "uma?|um dois|duas tres quatro cinco seis sete oito nove dez onze doze",
    today: "hoje",
    yesterday: "ontem",
    tomorrow: "amanha",
    beforeYesterday: "anteontem|antes de ontem",
    afterTomorrow: "depois de amanha",
    now: "agora",
    last: "ultim[oa]s?|passad[oa]s?",
    next: "proxim[oa]s?|que vem",
    current: "est[ea]s?|atual|atuais",
    ago: "(?:ha |(?=.* atras$))N U(?: atras)?",
    ahead: "(?:em|daqui a) N U",
    since: "desde|a partir",
    until: "ate",
    before: "antes",
    after: "depois|apos",
    between: "entre",
    and: "e",
    from: "de|desde",
    to: "a|ate",
    during: "durante|nos|nas|no|na|em",
    articles: "o|os|as|do|da|dos|das|de|a",
  },
};

/** Names that CLDR does not list, in the forms in which they stand after words of these phrases. */
const OTHER_WEEKDAYS: Partial<Record<PhraseLocale, string>> = {
  pl: "poniedziałku wtorku srody czwartku piatku soboty niedzieli",
  pt: "segunda terca quarta quinta sexta sabado domingo",
};

/**
 * A phrase of another language in English, where each of its words has one; what has none stays as it is, and is read
 * as nothing.
 */
export function inEnglish(text: string, locale: PhraseLocale): string {
  const held = TRANSLATORS.get(locale) ?? new Translator(locale);
  TRANSLATORS.set(locale, held);
  return held.english(text);
}

const TRANSLATORS = new Map<PhraseLocale, Translator>();

class Translator {
  /** Single words, each with its English. */
  readonly #words: readonly (readonly [RegExp, string])[];
  readonly #frames: Readonly<Record<"ago" | "ahead" | "between" | "fromTo" | "during", RegExp>>;
  /** `since X` and the like, by the English word. */
  readonly #bounds: readonly (readonly [string, RegExp])[];
  /** `last`, `next` and `this`, before or behind their unit. */
  readonly #neighbours: readonly (readonly [string, RegExp])[];
  readonly #articles: RegExp;
  readonly #to: RegExp;

  constructor(private readonly locale: PhraseLocale) {
    const words = LANGUAGES[locale];
    const { workday, ...units } = words.units;
    this.#words = [
      // Before the words of which they are made.
      wordOf(words.beforeYesterday, "day before yesterday"),
      wordOf(words.afterTomorrow, "day after tomorrow"),
      ...namesIn(locale, words.numbers),
      ...Object.entries({ workday, ...units }).map(([unit, each]) => wordOf(each, unit)),
      ...words.numbers.split(" ").map((each, at) => wordOf(each, String(at + 1))),
      wordOf("[tk] ?(?=[1-4](?!\\d))", "q "),
      ...(["today", "yesterday", "tomorrow", "now"] as const).map((each) =>
        wordOf(words[each], each),
      ),
    ];
    const count = "(?<count>\\d{1,6})";
    const unit = `(?<unit>(?:${Object.keys(words.units).join("|")}))`;
    const frame = (pattern: string) =>
      new RegExp(`^(?:${pattern.replaceAll("N", count).replaceAll("U", unit)})$`);
    this.#frames = {
      ago: frame(words.ago),
      ahead: frame(words.ahead),
      between: frame(`(?:${words.between}) (?<from>.+) (?:${words.and}) (?<to>.+)`),
      fromTo: frame(`(?:${words.from}) (?<from>.+) (?:${words.to}) (?<to>.+)`),
      during: new RegExp(`^(?:${words.during}) `),
    };
    this.#to = frame(`(?<from>.+) (?:${words.to}) (?<to>.+)`);
    this.#bounds = (["since", "until", "before", "after"] as const).map(
      (each) => [each, new RegExp(`^(?:${words[each]}) (?<rest>.+)$`)] as const,
    );
    const period = `(?<period>[a-z]+)`;
    this.#neighbours = [
      ["last", words.last] as const,
      ["next", words.next] as const,
      ["this", words.current] as const,
    ].map(
      ([english, each]) =>
        [
          english,
          new RegExp(
            `^(?:(?:${each}) )?(?:${count} )?(?:(?:${each}) )?${period}(?: (?:${each}))?$`,
          ),
        ] as const,
    );
    this.#articles = new RegExp(`(?<![^ ])(?:${words.articles}) `, "g");
  }

  english(text: string): string {
    const plain = ` ${unaccented(withHyphens(text), this.locale)} `
      .replace(/(\d)(?:er|eme|e|º|ª)(?![a-zł])/g, "$1")
      .replace(/(?<=[a-zł])\.|(?<=\d)\.(?=\s)|[_,'’]/g, " ")
      .replace(/(?<=[a-zł])-(?=[a-zł])/g, " ")
      .replace(/(?<=[a-zł])(?=\d)|(?<=\d)(?=[a-zł])/g, " ")
      .replace(/\s+/g, " ");
    const known = this.#words.reduce((words, [from, to]) => words.replace(from, to), plain);
    return this.#phrase(known.replace(/\s+/g, " ").trim());
  }

  #phrase(text: string): string {
    const away = this.#away(text);
    if (away !== null) return away;
    const between =
      this.#frames.between.exec(text)?.groups ?? this.#frames.fromTo.exec(text)?.groups;
    if (between !== undefined) return this.#range(between);
    for (const [english, form] of this.#bounds) {
      const rest = form.exec(text)?.groups?.rest;
      if (rest !== undefined) return `${english} ${this.#part(rest)}`;
    }
    const range = this.#to.exec(text)?.groups;
    return range === undefined ? this.#part(text) : this.#range(range);
  }

  #range({ from = "", to = "" }: Readonly<Record<string, string | undefined>>): string {
    return `from ${this.#part(from)} to ${this.#part(to)}`;
  }

  /** `3 days ago`, `in 2 weeks`. */
  #away(text: string): string | null {
    const ago = this.#frames.ago.exec(text)?.groups;
    if (ago !== undefined) return `${ago.count ?? ""} ${ago.unit ?? ""}s ago`;
    const ahead = this.#frames.ahead.exec(text)?.groups;
    return ahead === undefined ? null : `in ${ahead.count ?? ""} ${ahead.unit ?? ""}s`;
  }

  #part(text: string): string {
    const away = this.#away(text);
    if (away !== null) return away;
    const bare = ` ${text.replace(this.#frames.during, "")} `.replace(this.#articles, "").trim();
    for (const [english, form] of this.#neighbours) {
      const groups = form.exec(bare)?.groups;
      const { count = "", period = "" } = groups ?? {};
      // Without any of the words it is a number and a unit, or one word.
      if (groups === undefined || bare === `${count} ${period}`.trim()) continue;
      return `${english} ${count} ${period}`.replace("  ", " ");
    }
    return bare;
  }
}

/** A text in lower case, without accents. */
function unaccented(text: string, locale: string): string {
  return text
    .normalize("NFKC")
    .toLocaleLowerCase(locale)
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "");
}

function wordOf(pattern: string, english: string): readonly [RegExp, string] {
  return [new RegExp(`(?<![a-zł\\d])(?:${pattern})(?![a-zł])`, "g"), english];
}

/** The names of months and weekdays, longest first, of which none is also a number or another name. */
function namesIn(locale: PhraseLocale, numbers: string): readonly (readonly [RegExp, string])[] {
  const found = namesOf([locale]);
  if (!found.ok) return [];
  const { wideMonths, abbreviatedMonths, wideWeekdays, abbreviatedWeekdays } = found.value;
  const isNumber = new RegExp(`^(?:${numbers.replaceAll(" ", "|")})$`);
  const english = new Map<string, string | null>();
  const add = (name: string, meaning: string | undefined) => {
    const plain = unaccented(name, locale).replaceAll(".", "").replaceAll("-", " ");
    if (plain.length < 3 || isNumber.test(plain) || meaning === undefined) return;
    const other = english.get(plain);
    english.set(plain, other !== undefined && other !== meaning ? null : meaning);
  };
  const tables: readonly (readonly [NameTable, NameTable])[] = [
    [wideMonths, ENGLISH.wideMonths],
    [abbreviatedMonths, ENGLISH.wideMonths],
    [wideWeekdays, ENGLISH.wideWeekdays],
    [abbreviatedWeekdays, ENGLISH.wideWeekdays],
  ];
  for (const [{ numbers: named }, { written }] of tables) {
    for (const [name, number] of named) add(name, written[number - 1]?.toLowerCase());
  }
  for (const [at, name] of (OTHER_WEEKDAYS[locale] ?? "").split(" ").entries()) {
    add(name, ENGLISH.wideWeekdays.written[at]?.toLowerCase());
  }
  return [...english]
    .sort(([a], [b]) => b.length - a.length)
    .flatMap(([name, meaning]) => (meaning === null ? [] : [wordOf(name, meaning)]));
}
