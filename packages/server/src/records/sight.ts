import type { PreparedRequest } from "./prepared.js";

/** Of which columns something may be reported that no record of an answer shows. */
export interface Sight {
  /** Whether the listing's own filter is shown condition by condition, and what it excludes. */
  readonly tracesFixed: boolean;
  /** The nearest dates, the cells without a value. */
  readonly sees: (column: string) => boolean;
  /** Values that are nearly spelled so. */
  readonly isOffered: (column: string, value: string) => boolean;
}

/** The sight of whoever may see all of a source. */
export const WHOLE: Sight = { tracesFixed: true, sees: () => true, isOffered: () => true };

/** The sight of the readers of a listing: the columns that it shows, and the values that it offers. */
export function sightOf({ listing }: PreparedRequest): Sight {
  const { shown, declaration } = listing;
  const sees = (column: string) => shown.includes(column);
  return {
    tracesFixed: false,
    sees,
    isOffered: (column, value) => {
      const offer = declaration.choices?.[column] ?? {};
      return sees(column) && offer.values !== false && offer.hidden?.includes(value) !== true;
    },
  };
}
