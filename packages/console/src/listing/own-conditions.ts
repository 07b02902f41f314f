import {
  columnOf,
  conditionsOf,
  withConditionOn,
  type Comparison,
  type Leaf,
  type Tree,
} from "./conditions.js";
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
  const own = (conditionsOf(state) ?? []).filter(
    (each): each is OwnLeaf => each.kind === "leaf" && columnOf(each) === column,
  );
  const plain = own.filter(({ negated }) => !negated);
  const first = <H extends Leaf["how"]>(how: H, fits: (leaf: Leaf & { how: H }) => boolean) =>
    plain.find((each): each is OwnLeaf & { leaf: Leaf & { how: H } } => {
      return each.leaf.how === how && fits(each.leaf as Leaf & { how: H });
    });
  const bound = (...comparisons: readonly Comparison[]) =>
    first("compare", ({ comparison }) => comparisons.includes(comparison));
  const window = first("window", () => true);
  const text = first("contains", ({ folded }) => folded);
  const equal = bound("=");
  const [least, most] = equal === undefined ? [bound(">="), bound("<=")] : [equal, equal];
  const shown: readonly (OwnLeaf | undefined)[] = [window, text, least, most];
  return {
    fields: {
      window: window?.leaf.window ?? "",
      text: text?.leaf.text ?? "",
      least: least?.leaf.value ?? "",
      most: most?.leaf.value ?? "",
    },
    others: own.filter((each) => !shown.includes(each)),
  };
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
