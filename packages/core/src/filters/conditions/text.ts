import { foldText } from "../fold.js";
import { hasForm, patternText, plainMatch, type PatternPiece } from "../pattern.js";
import {
  valueHolds,
  withBlanks,
  type BlankPolicy,
  type ConditionKind,
  type Side,
} from "./common.js";
import { typeFault } from "./faults.js";

/** A condition on a text column: those of a pattern's form, or the others that are not blank. */
export interface TextCondition {
  readonly kind: "text";
  readonly column: string;
  readonly side: Side;
  readonly pattern: readonly PatternPiece[];
  /** Whether letter case counts; accents always do. */
  readonly caseSensitive: boolean;
  readonly blanks: BlankPolicy;
}

export const TEXT: ConditionKind<TextCondition> = {
  columns: ({ column }) => [column],
  faults: ({ column }, catalogue) => [typeFault(column, ["text"], "column.notText", catalogue)],
  holds: (condition, row) =>
    valueHolds(condition, row, (value) =>
      hasForm(cased(value, condition), casedPattern(condition)),
    ),
  words: (condition) => withBlanks(condition, formInWords(condition)),
};

/** A text as it is compared. */
export function cased(
  text: string,
  { caseSensitive }: Pick<TextCondition, "caseSensitive">,
): string {
  return caseSensitive ? text : foldText(text);
}

/** Whether a text in its compared form has the form of a pattern. */
export function formTest(condition: TextCondition): (cased: string) => boolean {
  const pattern = casedPattern(condition);
  const plain = plainMatch(pattern);
  switch (plain?.match) {
    case "is":
      return (text) => text === plain.text;
    case "contains":
      return (text) => text.includes(plain.text);
    case "begins":
      return (text) => text.startsWith(plain.text);
    case "ends":
      return (text) => text.endsWith(plain.text);
    case undefined:
      return (text) => hasForm(text, pattern);
  }
}

function casedPattern(condition: TextCondition): TextCondition["pattern"] {
  return condition.pattern.map((piece) =>
    typeof piece === "string" ? cased(piece, condition) : piece,
  );
}

const MATCH_WORDS = { is: "is", contains: "contains", begins: "begins with", ends: "ends with" };
const NEGATED_WORDS = {
  is: "is not",
  contains: "does not contain",
  begins: "does not begin with",
  ends: "does not end with",
};

function formInWords({ side, pattern, caseSensitive }: TextCondition): string {
  const plain = plainMatch(pattern);
  const isOutside = side === "outside";
  const words =
    plain === null
      ? `${isOutside ? "does not have" : "has"} the form “${patternText(pattern)}”`
      : `${(isOutside ? NEGATED_WORDS : MATCH_WORDS)[plain.match]} “${plain.text}”`;
  return words + caseInWords(caseSensitive);
}

export function caseInWords(caseSensitive: TextCondition["caseSensitive"]): string {
  return caseSensitive ? "" : " in any letter case";
}
