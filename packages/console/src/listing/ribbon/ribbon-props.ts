import type { ListingDetails } from "@orisma/client";
import type { RecordsMeta, WindowView } from "@orisma/core/internal";
import type { PageState } from "../state.js";

export interface RibbonProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly windows: readonly WindowView[] | undefined;
  /** What was applied of each parameter, by name. */
  readonly applied: RecordsMeta["values"];
  /** Whether the latest is on top. */
  readonly newestFirst: boolean;
  /** The dates of the first and last records of the page, where they are in the ribbon's order. */
  readonly page: readonly [string, string] | null;
  readonly onGo: (state: PageState) => void;
  readonly onBlank: (() => void) | null;
}
