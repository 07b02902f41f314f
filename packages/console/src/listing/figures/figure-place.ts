import type { ListingDetails } from "@orisma/client";

/** What a summary is of: its groups in rows and in columns, and its figure; nothing for none, and for records. */
export interface FigureChoice {
  readonly rows: string;
  readonly columns: string;
  readonly figure: string;
}

const PLACE = "#summary";

/** What the address says that is summarised; the main date by month where it says nothing. */
export function figuresAt(hash: string, { mainDate }: ListingDetails): FigureChoice {
  const said = new URLSearchParams(
    hash.startsWith(`${PLACE}=`) ? hash.slice(PLACE.length + 1) : "",
  );
  return {
    rows: said.get("rows") ?? `${mainDate}:month`,
    columns: said.get("columns") ?? "",
    figure: said.get("figure") ?? "",
  };
}

/** The place of the address that says what is summarised. */
export function placeOfFigures({ rows, columns, figure }: FigureChoice): string {
  return `${PLACE}=${new URLSearchParams({ rows, columns, figure }).toString()}`;
}
