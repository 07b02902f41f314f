import { Refused, failure, fault, catchFault, nearest, type Result } from "../../faults/index.js";
import {
  CALLER,
  COMPARISONS,
  DEEPEST_CQL2,
  LONGEST_CQL2,
  OWN_FUNCTIONS,
  TEMPORAL,
  type Expression,
  type Places,
} from "./expression.js";

/** An expression that was read, and where its parts stand. */
export interface ReadExpression {
  readonly expression: Expression;
  readonly places: Places;
}

/**
 * Reads the text form of CQL2: Basic CQL2, the advanced comparison operators, case-insensitive
 * comparison and the temporal functions, and functions of our own. Names with other characters than
 * letters, digits, `_` and `.` stand in double quotes. `caller()` stands for the name of the caller,
 * where there is one.
 *
 * Fails with one fault that says where it lies: `filter.syntax`, `filter.word`, `filter.tooLarge`.
 *
 * @see OGC 21-065r2, annex B
 * @example readCql2Text("raised >= DATE('2025-02-01') AND NOT cost < 500")
 */
export function readCql2Text(text: string, knowsCaller = false): Result<ReadExpression> {
  if (text.length > LONGEST_CQL2) {
    return failure(fault("filter.tooLarge", { what: "characters", most: LONGEST_CQL2 }));
  }
  return catchFault(() => {
    const reader = new Reader(tokensOf(text), knowsCaller);
    return { expression: reader.whole(), places: reader.places };
  });
}

interface Token {
  readonly kind: "word" | "name" | "text" | "number" | "symbol" | "end";
  readonly text: string;
  /** Of a word, in capitals. */
  readonly word: string;
  readonly at: number;
}

const TOKEN =
  /\s+|([A-Za-z_][\w.]*)|"((?:[^"]|"")*)"|'((?:[^']|'')*)'|(\d+(?:\.\d+)?(?:[eE][+-]?\d+)?|\.\d+)|(<>|<=|>=|[=<>(),*/+^%-])/y;

function tokensOf(text: string): readonly Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.length) {
    const start = TOKEN.lastIndex;
    const foreign = FOREIGN.get(text.slice(start, start + 2));
    if (foreign !== undefined) {
      throw syntax(text.slice(start, start + 2), start + 1, "is not of CQL2", [foreign]);
    }
    const match = TOKEN.exec(text);
    if (match === null) throw syntax(text.slice(start, start + 20), start + 1, "is not of CQL2");
    const at = start + 1;
    // By place: taking a match apart as a list costs more than finding it.
    const word = match[1];
    const name = match[2];
    const quoted = match[3];
    const number = match[4];
    const character = match[5];
    if (word !== undefined) {
      tokens.push({ kind: "word", text: word, word: word.toUpperCase(), at });
    } else if (name !== undefined) {
      tokens.push({ kind: "name", text: name.replaceAll('""', '"'), word: "", at });
    } else if (quoted !== undefined) {
      tokens.push({ kind: "text", text: quoted.replaceAll("''", "'"), word: "", at });
    } else if (number !== undefined) tokens.push({ kind: "number", text: number, word: "", at });
    else if (character !== undefined)
      tokens.push({ kind: "symbol", text: character, word: "", at });
  }
  tokens.push({ kind: "end", text: "the end", word: "", at: text.length + 1 });
  return tokens;
}

/** Symbols of other languages, and what they are in CQL2. */
const FOREIGN: ReadonlyMap<string, string> = new Map([
  ["==", "="],
  ["!=", "<>"],
  ["&&", "AND"],
  ["||", "OR"],
]);

/** A refusal of a word or symbol, with what was probably meant of the words that could stand there. */
function syntax(
  text: string,
  at: number,
  reason: string,
  expected: readonly string[] = [],
): Refused {
  const meant = FOREIGN.has(text) ? expected[0] : nearest(text, expected);
  const place = { value: text, ...(meant == null ? {} : { meant: [meant] }) };
  return new Refused(fault("filter.syntax", { at, text, reason }, place));
}

/** Words that have a meaning of their own, and so are no names of columns unless quoted. */
const KEYWORDS = ["AND", "OR", "NOT", "BETWEEN", "IN", "LIKE", "IS", "NULL", "TRUE", "FALSE"];
const FUNCTIONS: ReadonlyMap<string, string> = new Map(
  [...TEMPORAL, "casei", ...OWN_FUNCTIONS].map((name) => [name.toLowerCase(), name]),
);

class Reader {
  readonly #places = new Map<object, number>();
  #next = 0;
  #depth = 0;

  constructor(
    private readonly tokens: readonly Token[],
    private readonly knowsCaller: boolean,
  ) {}

  get places(): Places {
    return { at: (expression) => ({ at: this.#places.get(expression) ?? 0 }) };
  }

  whole(): Expression {
    const expression = this.#either();
    const rest = this.#peek();
    if (rest.kind !== "end") throw this.#unexpected(rest, "does not belong here", ["AND", "OR"]);
    return expression;
  }

  #either(): Expression {
    return this.#chain("OR", () => this.#all());
  }

  #all(): Expression {
    return this.#chain("AND", () => this.#negated());
  }

  #chain(word: "AND" | "OR", part: () => Expression): Expression {
    const { at } = this.#peek();
    const parts = [part()];
    while (this.#isWord(word)) {
      this.#take();
      parts.push(part());
    }
    const [only] = parts;
    if (only !== undefined && parts.length === 1) return only;
    return this.#placed({ op: word.toLowerCase(), args: parts }, at);
  }

  #negated(): Expression {
    if (!this.#isWord("NOT")) return this.#primary();
    const { at } = this.#take();
    return this.#deeper(() => this.#placed({ op: "not", args: [this.#negated()] }, at));
  }

  #primary(): Expression {
    if (!this.#isSymbol("(")) return this.#predicate();
    this.#take();
    const expression = this.#deeper(() => this.#either());
    this.#need(")");
    return expression;
  }

  #predicate(): Expression {
    const { at } = this.#peek();
    const left = this.#scalar();
    const next = this.#peek();
    if (next.kind === "symbol" && (COMPARISONS as readonly string[]).includes(next.text)) {
      this.#take();
      return this.#placed({ op: next.text, args: [left, this.#scalar()] }, at);
    }
    if (next.kind === "symbol" && "*/+^%-".includes(next.text)) {
      throw this.#unexpected(next, "is arithmetic, which is not read here");
    }
    const isNegated = this.#isWord("NOT");
    if (isNegated) this.#take();
    const found = this.#comparison(left, at);
    if (found !== null) return isNegated ? this.#placed({ op: "not", args: [found] }, at) : found;
    if (isNegated) {
      throw this.#unexpected(this.#peek(), "is not BETWEEN, IN or LIKE", ["BETWEEN", "IN", "LIKE"]);
    }
    if (!("op" in left) && !("boolean" in left)) {
      throw this.#unexpected(
        this.#peek(),
        "is not a comparison such as =, BETWEEN, IN, LIKE or IS NULL",
        ["BETWEEN", "IN", "LIKE", "IS", "NOT"],
      );
    }
    return left;
  }

  #comparison(left: Expression, at: number): Expression | null {
    if (this.#isWord("BETWEEN")) {
      this.#take();
      const least = this.#scalar();
      this.#needWord("AND");
      return this.#placed({ op: "between", args: [left, least, this.#scalar()] }, at);
    }
    if (this.#isWord("LIKE")) {
      this.#take();
      return this.#placed({ op: "like", args: [left, this.#scalar()] }, at);
    }
    if (this.#isWord("IN")) {
      const { at: listAt } = this.#take();
      const list = this.#placed({ list: this.#arguments() }, listAt);
      return this.#placed({ op: "in", args: [left, list] }, at);
    }
    if (!this.#isWord("IS")) return null;
    this.#take();
    const isNegated = this.#isWord("NOT");
    if (isNegated) this.#take();
    this.#needWord("NULL");
    const isNull = this.#placed({ op: "isNull", args: [left] }, at);
    return isNegated ? this.#placed({ op: "not", args: [isNull] }, at) : isNull;
  }

  #scalar(): Expression {
    const token = this.#take();
    const { at, text } = token;
    switch (token.kind) {
      case "text":
        return this.#placed({ text }, at);
      case "number":
        return this.#placed({ decimal: text.startsWith(".") ? `0${text}` : text }, at);
      case "name":
        return this.#placed({ property: text }, at);
      case "word":
        return this.#word(token);
      case "symbol":
        if (text === "-" && this.#peek().kind === "number") {
          return this.#placed({ decimal: `-${this.#take().text}` }, at);
        }
    }
    throw this.#unexpected(token, "is not a column, a value or a function");
  }

  #word(token: Token): Expression {
    const { text, word: upper, at } = token;
    if (upper === "TRUE" || upper === "FALSE") {
      return this.#placed({ boolean: upper === "TRUE" }, at);
    }
    if (KEYWORDS.includes(upper)) {
      throw this.#unexpected(
        token,
        "is a word of CQL2; a column of this name stands in double quotes",
      );
    }
    if (!this.#isSymbol("(")) return this.#placed({ property: text }, at);
    return this.#deeper(() => this.#call(text, at));
  }

  #call(name: string, at: number): Expression {
    const args = this.#arguments();
    const [first, second] = args;
    const lower = name.toLowerCase();
    if (lower === "date" || lower === "timestamp") {
      if (args.length !== 1 || first === undefined || !("text" in first)) {
        throw syntax(name, at, "takes one text, such as DATE('2025-02-28')");
      }
      return this.#placed(lower === "date" ? { date: first.text } : { timestamp: first.text }, at);
    }
    if (lower === "interval") {
      if (args.length !== 2 || first === undefined || second === undefined) {
        throw syntax(name, at, "takes a start and an end, such as INTERVAL('2025-02-01', '..')");
      }
      return this.#placed({ interval: [first, second] }, at);
    }
    if (lower === "decimal" && first !== undefined && "text" in first) {
      return this.#placed({ decimal: first.text }, at);
    }
    const isClaim = args.length === 1 && first !== undefined && "text" in first;
    if (lower === CALLER && (args.length === 0 || isClaim) && this.knowsCaller) {
      return this.#placed({ op: CALLER, args }, at);
    }
    const known = FUNCTIONS.get(lower);
    if (known !== undefined) return this.#placed({ op: known, args }, at);
    const all = ["DATE", "TIMESTAMP", "INTERVAL", ...[...FUNCTIONS.values()].map(shown)];
    const facts = { at, word: name, what: "a function that is known here", known: all };
    throw new Refused(fault("filter.word", facts, { value: name }));
  }

  #arguments(): readonly Expression[] {
    this.#need("(");
    const found: Expression[] = [];
    if (!this.#isSymbol(")")) {
      found.push(this.#scalar());
      while (this.#isSymbol(",")) {
        this.#take();
        found.push(this.#scalar());
      }
    }
    this.#need(")");
    return found;
  }

  #deeper<T>(read: () => T): T {
    if (++this.#depth > DEEPEST_CQL2) {
      throw new Refused(fault("filter.tooLarge", { what: "levels", most: DEEPEST_CQL2 }));
    }
    const found = read();
    this.#depth--;
    return found;
  }

  #placed<T extends Expression>(expression: T, at: number): T {
    this.#places.set(expression, at);
    return expression;
  }

  #peek(): Token {
    return this.tokens[this.#next] ?? { kind: "end", text: "the end", word: "", at: 0 };
  }

  #take(): Token {
    const token = this.#peek();
    this.#next++;
    return token;
  }

  #isWord(word: string): boolean {
    return this.#peek().word === word;
  }

  #isSymbol(character: string): boolean {
    const { kind, text } = this.#peek();
    return kind === "symbol" && text === character;
  }

  #need(character: string): void {
    if (!this.#isSymbol(character))
      throw this.#unexpected(this.#peek(), `stands where “${character}” belongs`);
    this.#take();
  }

  #needWord(word: string): void {
    if (!this.#isWord(word)) {
      throw this.#unexpected(this.#peek(), `stands where ${word} belongs`, [word]);
    }
    this.#take();
  }

  #unexpected({ text, at }: Token, reason: string, expected: readonly string[] = []): Refused {
    return syntax(text, at, reason, expected);
  }
}

/** A function as it is written in text: those of the standard in capitals. */
export function shown(name: string): string {
  return (OWN_FUNCTIONS as readonly string[]).includes(name) ? name : name.toUpperCase();
}
