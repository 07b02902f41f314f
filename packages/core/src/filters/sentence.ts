import { stretchesInWords } from "../windows/index.js";
import type {
  BlankPolicy,
  ColumnsCondition,
  Condition,
  DateCondition,
  DaysCondition,
  Filter,
  NumberCondition,
  OneOfCondition,
  OverlapCondition,
  StateCondition,
  TextCondition,
} from "./filter.js";
import { patternText, plainMatch } from "./pattern.js";
import { INTERSECTING, RELATIONS, type Relation } from "./relations.js";

/** What a date condition does with blanks, said beside it. */
const BLANK_WORDS: Readonly<Record<BlankPolicy, string>> = {
  leave: "",
  keep: ", or blank",
  only: " blank",
};

/**
 * A filter in words: each condition with its column, groups in brackets.
 *
 * @example filterInWords(filter) // "raised on 28 February 2025 and (cost at least 500 or task contains “lock”)"
 */
export function filterInWords(filter: Filter): string {
  return inWords(filter, false);
}

function inWords(filter: Filter, isInner: boolean): string {
  switch (filter.kind) {
    case "all":
    case "any": {
      const [only] = filter.of;
      if (only === undefined) return filter.kind === "all" ? "every record" : "no record";
      if (filter.of.length === 1) return inWords(only, isInner);
      const word = filter.kind === "all" ? " and " : " or ";
      const words = filter.of.map((each) => inWords(each, true)).join(word);
      return isInner ? `(${words})` : words;
    }
    case "not":
      return `not ${inWords(filter.of, true)}`;
    default:
      return conditionInWords(filter);
  }
}

function conditionInWords(condition: Condition): string {
  switch (condition.kind) {
    case "date":
      return dateInWords(condition);
    case "number":
      return withBlanks(condition, numberInWords(condition));
    case "text":
      return withBlanks(condition, textInWords(condition));
    case "oneOf":
      return withBlanks(condition, oneOfInWords(condition));
    case "boolean":
      return withBlanks(condition, condition.side === "inside" ? "yes" : "no");
    case "overlap":
      return overlapInWords(condition);
    case "days":
      return daysInWords(condition);
    case "columns":
      return columnsInWords(condition);
    case "state":
      return STATE_WORDS[condition.state](condition.column);
  }
}

const STATE_WORDS: Readonly<Record<StateCondition["state"], (column: string) => string>> = {
  dated: (column) => `${column} given`,
  blank: (column) => `${column} blank`,
  unreadable: (column) => `${column} unreadable`,
};

function withBlanks(
  { column, blanks }: { readonly column: string; readonly blanks: BlankPolicy },
  words: string,
): string {
  return blanks === "only" ? `${column} blank` : `${column} ${words}${BLANK_WORDS[blanks]}`;
}

function dateInWords(condition: DateCondition): string {
  const { side, intervals, recurring } = condition;
  const stretches = stretchesInWords({
    intervals,
    recurring: recurring.map(({ interval, rules }) => ({ interval, recurring: rules })),
  });
  return withBlanks(condition, side === "outside" ? `not ${stretches}` : stretches);
}

function numberInWords({ side, least, most }: NumberCondition): string {
  const not = side === "outside" ? "not " : "";
  if (least === null && most === null) return side === "outside" ? "of no number" : "of any number";
  if (least !== null && most !== null && least.value === most.value && least.isIn && most.isIn) {
    return `${not}${least.value}`;
  }
  const from = least && `${least.isIn ? "at least" : "above"} ${least.value}`;
  const to = most && `${most.isIn ? "at most" : "below"} ${most.value}`;
  const both = [from, to].filter((each) => each !== null).join(" and ");
  return not === "" ? both : `not ${both}`;
}

const MATCH_WORDS = { is: "is", contains: "contains", begins: "begins with", ends: "ends with" };
const NEGATED_WORDS = {
  is: "is not",
  contains: "does not contain",
  begins: "does not begin with",
  ends: "does not end with",
};

function textInWords({ side, pattern, letterCase }: TextCondition): string {
  const plain = plainMatch(pattern);
  const isOutside = side === "outside";
  const words =
    plain === null
      ? `${isOutside ? "does not have" : "has"} the form “${patternText(pattern)}”`
      : `${(isOutside ? NEGATED_WORDS : MATCH_WORDS)[plain.match]} “${plain.text}”`;
  return words + caseInWords(letterCase);
}

function caseInWords(letterCase: TextCondition["letterCase"]): string {
  return letterCase === "folded" ? " in any letter case" : "";
}

function oneOfInWords({ side, values, letterCase }: OneOfCondition): string {
  const list = values.map((each) => `“${each}”`).join(", ");
  const isOne = values.length === 1;
  const words = side === "outside" ? (isOne ? "is not" : "none of") : isOne ? "is" : "one of";
  return `${words} ${list === "" ? "nothing" : list}${caseInWords(letterCase)}`;
}

const RELATION_WORDS: Readonly<Record<Relation, string>> = {
  before: "ended before",
  meets: "ended at the beginning of",
  overlaps: "ran into",
  finishedBy: "began before and ended with",
  contains: "went on before and after",
  starts: "began with and ended within",
  equals: "was just",
  startedBy: "began with and went on after",
  during: "lay within",
  finishes: "began within and ended with",
  overlappedBy: "ran out of",
  metBy: "began at the end of",
  after: "began after",
};

function overlapInWords(condition: OverlapCondition): string {
  const { start, end, side, relations, intervals, openStart, openEnd } = condition;
  const not = side === "outside" ? "not " : "";
  const window = stretchesInWords({ intervals, recurring: [] });
  const opens = [
    openStart ? `${start} blank is since ever` : null,
    openEnd ? `${end} blank is for good` : null,
  ];
  const rule = opens.filter((each) => each !== null).join(", ");
  return `${start} to ${end} ${not}${relationsInWords(relations)} ${window}${rule === "" ? "" : ` (${rule})`}`;
}

function relationsInWords(relations: readonly Relation[]): string {
  const isAll = (others: readonly Relation[]) =>
    others.length === relations.length && others.every((each) => relations.includes(each));
  if (isAll(INTERSECTING)) return "had some of";
  if (isAll(RELATIONS.filter((each) => !INTERSECTING.includes(each)))) return "had nothing of";
  return relations.map((each) => RELATION_WORDS[each]).join(" or ");
}

function daysInWords({ from, to, side, least, most }: DaysCondition): string {
  const not = side === "outside" ? "not " : "";
  const days = (count: number) => `${count} ${count === 1 ? "day" : "days"}`;
  const size =
    least !== null && least === most
      ? days(least)
      : [
          least === null ? null : `at least ${days(least)}`,
          most === null ? null : `at most ${days(most)}`,
        ]
          .filter((each) => each !== null)
          .join(" and ");
  return `${not}${size === "" ? "any number of days" : size} from ${from} to ${to}`;
}

const ORDER_WORDS: Readonly<Record<ColumnsCondition["comparison"], string>> = {
  "=": "the same as",
  "<>": "other than",
  "<": "below",
  "<=": "at most",
  ">": "above",
  ">=": "at least",
};

function columnsInWords({ left, comparison, right }: ColumnsCondition): string {
  return `${left} ${ORDER_WORDS[comparison]} ${right}`;
}
