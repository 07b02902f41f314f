import type { ListingDetails } from "@orisma/client";
import {
  columnOfPart,
  typedCondition,
  type Query,
  type TypedCondition,
} from "@orisma/core/internal";
import { partsOf, typed, withConditionsOn } from "./conditions.js";
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

/** The fields as a page fills them, and the conditions on the column that none of them shows. */
export function ownFields(
  state: PageState,
  listing: ListingDetails,
  column: string,
): { readonly fields: OwnFields; readonly others: readonly Query[] } {
  const others: Query[] = [];
  let fields: OwnFields = { window: "", text: "", least: "", most: "" };
  for (const part of partsOf(state, listing) ?? []) {
    if (columnOfPart(part) !== column) continue;
    const condition = typedCondition(part);
    const shown = condition === null || condition.isNegated ? [] : shownBy(condition);
    // A field shows one of them: another bound, or another part, stays beside it.
    if (shown.length > 0 && shown.every(([field]) => fields[field] === "")) {
      fields = { ...fields, ...Object.fromEntries(shown) };
    } else others.push(part);
  }
  return { fields, others };
}

/** The fields that show a condition. */
function shownBy({
  comparison,
  values,
  caseSensitive,
}: TypedCondition): readonly (readonly [keyof OwnFields, string])[] {
  const [value = ""] = values;
  switch (comparison) {
    case "on":
      return [["window", value]];
    case "contains":
      return caseSensitive === false ? [["text", value]] : [];
    case "atLeast":
      return [["least", value]];
    case "atMost":
      return [["most", value]];
    case "is":
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
  listing: ListingDetails,
  { name: column, type }: ShownColumn,
  { window, text, least, most }: OwnFields,
): PageState {
  const { others } = ownFields(state, listing, column);
  const own =
    type === "date"
      ? [typed(column, "on", [window])]
      : type === "text"
        ? [typed(column, "contains", [text], { caseSensitive: false })]
        : [typed(column, "atLeast", [least]), typed(column, "atMost", [most])];
  return withConditionsOn(state, listing, column, [...others, ...own]);
}
