import type { ListingDetails } from "@orisma/client";
import { useQueryClient } from "@tanstack/react-query";
import { countedRecords } from "../imports/counted.js";
import { createContext, useContext } from "react";

/** What was changed last on a page, to be shown with a way back. */
export interface Changed {
  readonly words: string;
  readonly notices: readonly string[];
  /** The number of the edit; null where nothing changed, or where it was taken back. */
  readonly edit: number | null;
}

/** Takes in what was changed; a page of a listing provides it. */
export const ChangedContext = createContext<(changed: Changed) => void>(() => undefined);

/** Reports a change to the page, which requests everything that it shows again. */
export function useChanged(): (changed: Changed) => Promise<void> {
  const queries = useQueryClient();
  const report = useContext(ChangedContext);
  return async (changed) => {
    report(changed);
    await queries.invalidateQueries();
  };
}

/** Whether a cell of a column has something to be changed by. */
export function canChange({ rights }: ListingDetails, column: string): boolean {
  return rights.editable.includes(column) || rights.actions.length > 0;
}

/** That records left the list by a change. */
export function leftText(left: number | null): readonly string[] {
  if (left === null || left === 0) return [];
  return [`${countedRecords(left)} left the list by it.`];
}
