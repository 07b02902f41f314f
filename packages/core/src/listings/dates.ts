import { withLocation, type Fault } from "../faults/index.js";
import { dateTest, type DateQuery, type DateTest, type ResolvedDateQuery } from "../query/index.js";
import { phrasesIn, type WindowContext } from "../windows/index.js";
import { readBlanks } from "./blanks.js";
import type { PlanContext } from "./context.js";
import { isStart, type DateParameter, type ListingDeclaration } from "./declaration.js";
import { beyondLimits } from "./limits.js";
import { readDates, type SentDates, type SentParameters } from "./sent.js";

/** What the parameters of one condition on dates request. */
export interface RequestedDates {
  readonly query: DateQuery | null;
  readonly faults: readonly Fault[];
}

/** Whether a listing takes phrases. */
export function takesPhrases(phrases: ListingDeclaration["phrases"]): boolean {
  return phrases !== undefined && phrases !== false;
}

/** Reads the condition of a parameter of dates, or of the two ends of a pair. */
export function readDateQuery(
  group: readonly DateParameter[],
  sent: SentParameters,
  defaults: Readonly<Record<string, unknown>>,
  { columns, forms, named, asOf, zone, calendar }: PlanContext,
  phrases: ListingDeclaration["phrases"],
): RequestedDates {
  const faults: Fault[] = [];
  const [first] = group;
  if (first === undefined) return { query: null, faults };
  const column = columns.get(first.column);
  const window = { asOf, zone, calendar };
  const given = group.flatMap((declaration) => {
    const form = forms.get(declaration.name);
    const read = readDates(declaration, sent, {
      ...{ column, form, named },
      window: phrasesIn(window, phrases) ?? window,
      phrases: takesPhrases(phrases),
    });
    if (read.ok) return read.value === null ? [] : [read.value];
    faults.push(...read.faults);
    return [];
  });
  const blanks = readBlanks(group, sent);
  if (!blanks.ok) faults.push(...blanks.faults);
  const isRequested = given.length > 0 || (blanks.ok && blanks.value === "only");
  if (faults.length > 0 || !blanks.ok || !isRequested) return { query: null, faults };
  const ordered = inOrder(given);
  const names = ordered.map(({ declaration: { name } }) => name);
  const query: DateQuery = {
    kind: "date",
    id: names.length === 0 ? first.name : names.join("/"),
    origin: {
      kind: "parameter",
      names,
      sent: ordered.map(({ declaration: { name: parameter }, raw, value }) => ({
        parameter,
        raw,
        form: value.kind === "window" ? "window" : "date",
        isDefault: parameter in defaults,
      })),
    },
    column: first.column,
    tests: testsOf(ordered),
    blanks: blanks.value,
    notices: ordered.flatMap(({ notices }) => notices),
    ...(ordered.some(({ isPhrase }) => isPhrase) ? { changesDaily: true } : {}),
  };
  return { query, faults };
}

/** The start of a pair comes first. */
function inOrder(given: readonly SentDates[]): readonly SentDates[] {
  const start = given.find(({ declaration }) => isStart(declaration.comparison));
  if (start === undefined || given.length < 2) return given;
  return [start, ...given.filter((each) => each !== start)];
}

function testsOf([first, second]: readonly SentDates[]): readonly DateTest[] {
  if (first === undefined) return [];
  const { comparison } = first.declaration;
  if (first.value.kind === "window") return [dateTest(comparison, first.value.window)];
  const { part } = first.value;
  if (second?.value.kind !== "part") return [{ kind: "part", comparison, part }];
  return [
    {
      kind: "between",
      start: { comparison: comparison === "after" ? "after" : "from", part },
      end: {
        comparison: second.declaration.comparison === "before" ? "before" : "to",
        part: second.value.part,
      },
      maySwap: true,
    },
  ];
}

/** The first limit that a condition goes beyond, named by the parameter that was sent. */
export function limitFault(
  group: readonly DateParameter[],
  { query, filter }: ResolvedDateQuery,
  window: WindowContext,
): Fault | null {
  const { intervals, recurring } = filter;
  const requested = [...intervals, ...recurring.map(({ interval }) => interval)];
  const [sent] = query.origin.kind === "parameter" ? query.origin.sent : [];
  if (sent === undefined || requested.length === 0) return null;
  for (const { limits } of group) {
    const found = limits === undefined ? null : beyondLimits(limits, requested, window);
    if (found !== null) return withLocation(found, { parameter: sent.parameter, value: sent.raw });
  }
  return null;
}
