import { fault } from "../../faults/index.js";
import { columnFault } from "../columns.js";
import { cellOf, stateOf, type ConditionKind } from "./common.js";

/** A condition on the state of a column's cells: `dated` is said of any cell that holds a value. */
export interface StateCondition {
  readonly kind: "state";
  readonly column: string;
  readonly state: "dated" | "blank" | "unreadable";
}

export const STATE: ConditionKind<StateCondition> = {
  columns: ({ column }) => [column],
  faults: ({ column, state }, catalogue) => [
    state === "unreadable" && catalogue.get(column)?.type === "text"
      ? fault("column.noState", { name: column })
      : columnFault(column, catalogue),
  ],
  holds: ({ column, state }, row) => stateOf(cellOf(row, column)) === state,
  words: ({ column, state }) => WORDS[state](column),
};

const WORDS: Readonly<Record<StateCondition["state"], (column: string) => string>> = {
  dated: (column) => `${column} given`,
  blank: (column) => `${column} blank`,
  unreadable: (column) => `${column} unreadable`,
};
