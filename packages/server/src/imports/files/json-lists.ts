import { fault, readJsonPath } from "@orisma/core/internal";
import { Problem, Turns, problemOf } from "../../http/index.js";
import { LONGEST_RECORD, broken } from "./table.js";

/** A text that is more than one document, as objects one a line are. */
export class SeveralDocuments extends Problem {}

/** A list of objects inside a JSON document, and how many there are. */
export interface FoundList {
  /** The names on the way to it. */
  readonly path: readonly string[];
  readonly objects: number;
}

/** Objects inside one another at most. */
const DEEPEST = 200;
/** Lists that a problem names. */
const MAX_NAMED = 5;

/** A path as JSONPath has it (RFC 9535): `$.data.items`, `$['per day']`. */
export function pathOf(path: readonly string[]): string {
  const steps = path.map((name) =>
    /^[A-Za-z_][A-Za-z0-9_]*$/.test(name) ? `.${name}` : `['${name}']`,
  );
  return `$${steps.join("")}`;
}

/** Every list of objects of a document that lies in no other list. */
export async function listsIn(text: AsyncIterable<string>): Promise<readonly FoundList[]> {
  const found = new Map<string, { readonly path: readonly string[]; objects: number }>();
  const walker = new JsonWalker();
  const turns = new Turns();
  for await (const piece of text) {
    for (let at = 0; at < piece.length; at++) {
      if (walker.step(piece, at) !== "object" || !walker.isElement) continue;
      const path = walker.path;
      if (path === null) continue;
      const name = path.join("\0");
      const list = found.get(name) ?? { path, objects: 0 };
      list.objects++;
      found.set(name, list);
    }
    await turns.pause();
  }
  walker.end();
  return [...found.values()];
}

/**
 * The list whose objects are the records: the one that is named, else the only one that there is. Throws a problem
 * that lists those that there are where it is none, or where they are several.
 */
export function chosenList(lists: readonly FoundList[], wanted: string | undefined): FoundList {
  const known = lists
    .slice(0, MAX_NAMED)
    .map(
      ({ path, objects }) => `${pathOf(path)} (${objects} ${objects === 1 ? "object" : "objects"})`,
    )
    .join(", ");
  if (wanted !== undefined) {
    const read = readJsonPath(wanted);
    if (!read.ok) throw problemOf(read.faults.map((each) => ({ ...each, parameter: "records" })));
    const names = read.value.flatMap((step) => ("name" in step ? [step.name] : []));
    const isPlain = names.length === read.value.length;
    const list = lists.find(({ path }) => isPlain && path.join("\0") === names.join("\0"));
    if (list !== undefined) return list;
    const reason = `it has no list of objects at ${wanted}${known === "" ? "" : `, but ${known}`}`;
    throw problemOf([
      fault("file.broken", { line: null, reason }, { parameter: "records", value: wanted }),
    ]);
  }
  const [only, other] = lists;
  if (only === undefined) throw broken("the file holds no list of objects");
  if (other === undefined) return only;
  const reason = `it has several lists of objects: say which has the records: ${known}`;
  throw problemOf([fault("file.broken", { line: null, reason }, { parameter: "records" })]);
}

interface Frame {
  readonly isList: boolean;
  /** The name of the member that is being read; null in a list. */
  name: string | null;
  /** Whether the next text is a name. */
  isNameNext: boolean;
}

/** Walks through a JSON document character by character, and knows where it is. */
export class JsonWalker {
  readonly #stack: Frame[] = [];
  /** The text that is being read: of a name all of it, else nothing. */
  #name: string | null = null;
  #isString = false;
  #isEscaped = false;
  #isAfter = false;
  #length = 0;
  line = 1;

  /** Takes the next character; says whether an object or a list begins with it. */
  step(piece: string, at: number): "object" | "list" | null {
    const code = piece.charCodeAt(at);
    if (code === NEWLINE) this.line++;
    if (this.#isString) {
      this.#inString(code, piece, at);
      return null;
    }
    if (code <= 32) return null;
    if (this.#isAfter) {
      const { problem, detail, faults } = broken(
        "something stands behind the end of the document",
        this.line,
      );
      throw new SeveralDocuments(problem, detail, faults);
    }
    const frame = this.#stack.at(-1);
    switch (code) {
      case QUOTE:
        this.#isString = true;
        this.#length = 0;
        this.#name = frame?.isNameNext === true ? "" : null;
        return null;
      case OPENING_BRACE:
      case OPENING_BRACKET: {
        if (this.#stack.length === DEEPEST) {
          const reason = `on line ${this.line} it has more than ${DEEPEST} levels`;
          throw problemOf([fault("file.limit", { reason, most: `${DEEPEST} levels` })]);
        }
        const isList = code === OPENING_BRACKET;
        this.#stack.push({ isList, name: null, isNameNext: !isList });
        return isList ? "list" : "object";
      }
      case CLOSING_BRACE:
      case CLOSING_BRACKET: {
        const isList = code === CLOSING_BRACKET;
        if (frame?.isList !== isList) throw broken("its brackets do not match", this.line);
        this.leave();
        return null;
      }
      case COMMA:
        if (frame?.isList === false) frame.isNameNext = true;
        return null;
      case COLON:
        if (frame?.isList === false) frame.isNameNext = false;
        return null;
      default:
        return null;
    }
  }

  /** Goes on behind the list or object that it is in. */
  leave(): void {
    this.#stack.pop();
    this.#isAfter = this.#stack.length === 0;
  }

  #inString(code: number, piece: string, at: number): void {
    if (++this.#length > LONGEST_RECORD) {
      const reason = `the text on line ${this.line} is longer than ${LONGEST_RECORD} characters`;
      const most = `${LONGEST_RECORD} characters a text`;
      throw problemOf([fault("file.limit", { reason, most })]);
    }
    if (this.#name !== null && (this.#isEscaped || code !== QUOTE)) this.#name += piece[at] ?? "";
    if (this.#isEscaped) this.#isEscaped = false;
    else if (code === BACKSLASH) this.#isEscaped = true;
    else if (code === QUOTE) {
      this.#isString = false;
      const frame = this.#stack.at(-1);
      if (this.#name !== null && frame !== undefined) frame.name = nameOf(this.#name);
    }
  }

  /** Whether the innermost object or list is an element of a list. */
  get isElement(): boolean {
    return this.#stack.at(-2)?.isList === true;
  }

  /** The names on the way to the innermost list; null where it lies in another list. */
  get path(): readonly string[] | null {
    const end =
      this.#stack.at(-1)?.isList === true ? this.#stack.length - 1 : this.#stack.length - 2;
    const outer = this.#stack.slice(0, Math.max(0, end));
    return outer.some(({ isList }) => isList) ? null : outer.map(({ name }) => name ?? "");
  }

  end(): void {
    if (!this.#isAfter) throw broken("the file ends before its document does", this.line);
  }
}

/** The name between two quotes. */
function nameOf(raw: string): string {
  if (!raw.includes("\\")) return raw;
  try {
    return JSON.parse(`"${raw}"`) as string;
  } catch {
    return raw;
  }
}

const NEWLINE = 10;
const QUOTE = 34;
const COMMA = 44;
const COLON = 58;
const OPENING_BRACKET = 91;
const BACKSLASH = 92;
const CLOSING_BRACKET = 93;
const OPENING_BRACE = 123;
const CLOSING_BRACE = 125;
