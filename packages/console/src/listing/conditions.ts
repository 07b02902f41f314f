import {
  cql2Text,
  decimalOf,
  patternOf,
  patternText,
  plainMatch,
  readCql2Json,
  readCql2Text,
  readPattern,
  type Expression,
} from "@orisma/core/internal";
import { valueOf, withParameters, type PageState } from "./state.js";

/** What can be asked of one column of a compound condition, as its editors know it. */
export type Leaf =
  | { readonly how: "window"; readonly column: string; readonly window: string }
  | {
      readonly how: "among";
      readonly column: string;
      readonly values: readonly string[];
      readonly folded: boolean;
    }
  | {
      readonly how: "compare";
      readonly column: string;
      readonly comparison: Comparison;
      readonly value: string;
    }
  | {
      readonly how: TextMatch;
      readonly column: string;
      readonly text: string;
      /** Whether letter case does not count. */
      readonly folded: boolean;
    }
  | { readonly how: State; readonly column: string }
  /** Anything else, as it is written. */
  | { readonly how: "written"; readonly text: string };

export const TEXT_MATCHES = ["contains", "begins", "ends"] as const;
export type TextMatch = (typeof TEXT_MATCHES)[number];
/** `dated` is said of any cell that holds a value: neither blank nor unreadable. */
export const STATES = ["dated", "blank", "unreadable", "yes"] as const;
export type State = (typeof STATES)[number];
export const COMPARISONS = ["=", "<", "<=", ">", ">="] as const;
export type Comparison = (typeof COMPARISONS)[number];

/** A compound condition as it is edited; ids keep its parts apart while they change. */
export type Tree =
  | {
      readonly id: number;
      readonly kind: "all" | "any";
      readonly negated: boolean;
      readonly of: readonly Tree[];
    }
  | { readonly id: number; readonly kind: "leaf"; readonly negated: boolean; readonly leaf: Leaf };

let ids = 0;
/** A number that no other part has. */
export function newId(): number {
  return ++ids;
}

/** What an expression is to its editors. */
export function treeOf(expression: Expression, negated = false): Tree {
  if ("op" in expression) {
    const { op, args } = expression;
    const [first] = args;
    if (op === "not" && first !== undefined) return treeOf(first, !negated);
    if (op === "and" || op === "or") {
      const kind = op === "and" ? "all" : "any";
      return { id: newId(), kind, negated, of: args.map((each) => treeOf(each)) };
    }
  }
  const yes = yesOf(expression);
  if (yes !== null) {
    const leaf = { how: "yes", column: yes.column } as const;
    return { id: newId(), kind: "leaf", negated: negated === yes.value, leaf };
  }
  return { id: newId(), kind: "leaf", negated, leaf: leafOf(expression) };
}

/** The expression that an edited tree stands for; null for one without any condition. */
export function expressionOf(tree: Tree): Expression | null {
  const negated = (expression: Expression): Expression => {
    if (!tree.negated) return expression;
    const yes = yesOf(expression);
    return yes === null ? { op: "not", args: [expression] } : yesExpression(yes.column, !yes.value);
  };
  if (tree.kind === "leaf") {
    const found = leafExpression(tree.leaf);
    return found === null ? null : negated(found);
  }
  const of = tree.of.flatMap((each) => expressionOf(each) ?? []);
  const [only] = of;
  if (only === undefined) return null;
  return negated(of.length === 1 ? only : { op: tree.kind === "all" ? "and" : "or", args: of });
}

/** The column that a tree speaks of, where it is a single condition on one. */
export function columnOf(tree: Tree): string | null {
  return tree.kind === "leaf" && tree.leaf.how !== "written" ? tree.leaf.column : null;
}

function leafOf(expression: Expression): Leaf {
  return knownLeaf(expression) ?? { how: "written", text: cql2Text(expression) };
}

function knownLeaf(expression: Expression): Leaf | null {
  if (!("op" in expression)) return null;
  const { op, args } = expression;
  const [first, second] = args;
  const folded = isCased(first);
  const subject = uncased(first);
  if (subject === null || !("property" in subject)) return null;
  const column = subject.property;
  if (op === "isNull") return { how: "blank", column };
  if (op === "dated") return { how: "dated", column };
  if (op === "unreadable") return { how: "unreadable", column };
  if (second === undefined) return null;
  if (op === "in" && "list" in second) {
    const values = second.list.map((each) => (isCased(each) === folded ? plainOf(each) : null));
    return values.some((each) => each === null)
      ? null
      : { how: "among", column, values: values as string[], folded };
  }
  if (isCased(second) !== folded) return null;
  const object = uncased(second);
  if (object === null) return null;
  if (op === "inWindow" && "text" in object) return { how: "window", column, window: object.text };
  if (op === "like" && "text" in object) return matchOf(column, object.text, folded);
  if (op === "=" && "text" in object) {
    return { how: "among", column, values: [object.text], folded };
  }
  const comparison = COMPARISONS.find((each) => each === op);
  return comparison === undefined || !("decimal" in object)
    ? null
    : { how: "compare", column, comparison, value: object.decimal };
}

/** `done = TRUE`, or FALSE. */
function yesExpression(column: string, value: boolean): Expression {
  return { op: "=", args: [{ property: column }, { boolean: value }] };
}

/** What {@link yesExpression} writes, read. */
function yesOf(
  expression: Expression,
): { readonly column: string; readonly value: boolean } | null {
  if (!("op" in expression) || expression.op !== "=") return null;
  const [subject, object] = expression.args;
  if (subject === undefined || object === undefined) return null;
  if (!("property" in subject) || !("boolean" in object)) return null;
  return { column: subject.property, value: object.boolean };
}

function isCased(expression: Expression | undefined): boolean {
  return expression !== undefined && "op" in expression && expression.op === "casei";
}

function uncased(expression: Expression | undefined): Expression | null {
  if (expression === undefined) return null;
  return "op" in expression && expression.op === "casei"
    ? (expression.args[0] ?? null)
    : expression;
}

function plainOf(expression: Expression): string | null {
  const plain = uncased(expression);
  return plain !== null && "text" in plain ? plain.text : null;
}

function matchOf(column: string, pattern: string, folded: boolean): Leaf | null {
  const plain = plainMatch(readPattern(pattern));
  if (plain === null || plain.match === "is" || plain.text === "") return null;
  return { how: plain.match, column, text: plain.text, folded };
}

function leafExpression(leaf: Leaf): Expression | null {
  if (leaf.how === "written") {
    const read = readCql2Text(leaf.text);
    return read.ok ? read.value.expression : null;
  }
  const subject: Expression = { property: leaf.column };
  const cased = (expression: Expression): Expression =>
    "folded" in leaf && leaf.folded ? { op: "casei", args: [expression] } : expression;
  switch (leaf.how) {
    case "window":
      return leaf.window.trim() === ""
        ? null
        : { op: "inWindow", args: [subject, { text: leaf.window.trim() }] };
    case "among": {
      const list = leaf.values.map((text) => cased({ text }));
      return list.length === 0 ? null : { op: "in", args: [cased(subject), { list }] };
    }
    case "compare": {
      const value = leaf.value.trim();
      if (value === "") return null;
      // What is no number stays a value, which is told, and never becomes a part of the condition.
      const object = decimalOf(value) === null ? { text: value } : { decimal: value };
      return { op: leaf.comparison, args: [subject, object] };
    }
    case "contains":
    case "begins":
    case "ends": {
      if (leaf.text === "") return null;
      const text = patternText(patternOf(leaf.how, leaf.text));
      return { op: "like", args: [cased(subject), cased({ text })] };
    }
    case "blank":
      return { op: "isNull", args: [subject] };
    case "dated":
      return { op: "dated", args: [subject] };
    case "unreadable":
      return { op: "unreadable", args: [subject] };
    case "yes":
      return yesExpression(leaf.column, true);
  }
}

/** A condition as callers may send it, as text or as JSON; null where it cannot be read. */
export function expressionIn(source: string): Expression | null {
  const read = source.trimStart().startsWith("{") ? readJson(source) : readCql2Text(source);
  return read?.ok === true ? read.value.expression : null;
}

function readJson(source: string): ReturnType<typeof readCql2Json> | null {
  try {
    return readCql2Json(JSON.parse(source));
  } catch {
    return null;
  }
}

/** Those conditions of a page that all must hold; null where its text cannot be read. */
export function conditionsOf(state: PageState): readonly Tree[] | null {
  const source = valueOf(state, "filter");
  if (source.trim() === "") return [];
  const expression = expressionIn(source);
  if (expression === null) return null;
  const tree = treeOf(expression);
  return tree.kind === "all" && !tree.negated ? tree.of : [tree];
}

/** The page with other conditions, from its first page. */
export function withConditions(state: PageState, conditions: readonly Tree[]): PageState {
  const whole = expressionOf({ id: 0, kind: "all", negated: false, of: conditions });
  return withParameters(state, { filter: whole === null ? [] : cql2Text(whole) });
}

/** The page with these conditions on a column in place of the simple ones that it has. */
export function withConditionOn(
  state: PageState,
  column: string,
  leaves: readonly { readonly leaf: Leaf; readonly negated: boolean }[],
): PageState {
  const others = (conditionsOf(state) ?? []).filter((each) => columnOf(each) !== column);
  const own = leaves.map(({ leaf, negated }): Tree => ({
    id: newId(),
    kind: "leaf",
    negated,
    leaf,
  }));
  return withConditions(state, [...others, ...own]);
}
