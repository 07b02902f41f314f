import { columnOf, conditionsOf, withConditionOn, type Leaf, type Tree } from "./conditions.js";
import type { ShownColumn } from "./narrowing.js";
import type { PageState } from "./state.js";

/** What is typed of a column that has no parameter. */
export interface OwnFields {
  /** Of dates. */
  readonly window: string;
  /** A part of a text; letter case does not count. */
  readonly text: string;
  /** Bounds of a number, both in. */
  readonly least: string;
  readonly most: string;
}

type OwnLeaf = Extract<Tree, { readonly kind: "leaf" }>;

/** The fields as a page fills them, and the conditions on the column that none of them shows. */
export function ownFields(
  state: PageState,
  column: string,
): { readonly fields: OwnFields; readonly others: readonly OwnLeaf[] } {
  const others: OwnLeaf[] = [];
  let fields: OwnFields = { window: "", text: "", least: "", most: "" };
  for (const each of conditionsOf(state) ?? []) {
    if (each.kind !== "leaf" || columnOf(each) !== column) continue;
    const shown = each.negated ? [] : shownBy(each.leaf);
    // A field shows one of them: another bound, or another part, stays beside it.
    if (shown.length > 0 && shown.every(([field]) => fields[field] === "")) {
      fields = { ...fields, ...Object.fromEntries(shown) };
    } else others.push(each);
  }
  return { fields, others };
}

/** The fields that show a condition. */
function shownBy(leaf: Leaf): readonly (readonly [keyof OwnFields, string])[] {
  if (leaf.how === "window") return [["window", leaf.window]];
  if (leaf.how === "contains" && leaf.folded) return [["text", leaf.text]];
  if (leaf.how !== "compare") return [];
  const { comparison, value } = leaf;
  switch (comparison) {
    case ">=":
      return [["least", value]];
    case "<=":
      return [["most", value]];
    case "=":
      return [
        ["least", value],
        ["most", value],
      ];
    default:
      return [];
  }
}

/** The page with what the fields say of a column; conditions that they do not show stay. */
export function withOwnFields(
  state: PageState,
  { name: column, type }: ShownColumn,
  fields: OwnFields,
): PageState {
  const { others } = ownFields(state, column);
  const said = leavesOf(fields, column, type).map((leaf) => ({ leaf, negated: false }));
  return withConditionOn(state, column, [...others, ...said]);
}

function leavesOf(
  { window, text, least, most }: OwnFields,
  column: string,
  type: ShownColumn["type"],
): readonly Leaf[] {
  const bound = (comparison: ">=" | "<=", value: string): readonly Leaf[] =>
    value.trim() === "" ? [] : [{ how: "compare", column, comparison, value: value.trim() }];
  if (type === "date") return window.trim() === "" ? [] : [{ how: "window", column, window }];
  if (type === "text") return text === "" ? [] : [{ how: "contains", column, text, folded: true }];
  return [...bound(">=", least), ...bound("<=", most)];
}
