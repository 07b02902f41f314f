/**
 * What the service sends and what the client says that it gets are written apart, because the
 * client stands alone. This file is only checked by the compiler: a difference fails there.
 */
import type * as client from "@orisma/client";
import type { KeyDescription } from "../src/access/index.js";
import type { ProblemDocument } from "../src/http/index.js";
import type { ListingDescription } from "../src/listings/index.js";
import type { HolidayListDescription } from "../src/calendars/index.js";
import type { LadderAnswer } from "../src/windows/index.js";
import type { FileLook } from "../src/files/index.js";
import type {
  LoadDescription,
  LoadProgress,
  LoadReport,
  SourceDescription,
} from "../src/sources/index.js";
import type { RecordInspection } from "../src/sources/inspect.js";
import type { ColumnPreview } from "../src/sources/profile.js";

type Same<Sent, Got> = [Sent] extends [Got] ? ([Got] extends [Sent] ? true : never) : never;

export const SHAPES: readonly [
  Same<KeyDescription, client.KeyDescription>,
  Same<ProblemDocument, client.ProblemDocument>,
  Same<ListingDescription, client.ListingDescription>,
  Same<LoadReport, client.LoadReport>,
  Same<SourceDescription, client.SourceDescription>,
  Same<FileLook, client.FileLook>,
  Same<LoadDescription, client.LoadDescription>,
  Same<LoadProgress, client.LoadProgress>,
  Same<RecordInspection, client.RecordInspection>,
  Same<ColumnPreview, client.ColumnPreview>,
  Same<LadderAnswer, client.LadderDescription>,
  Same<HolidayListDescription, client.HolidayListDescription>,
] = [true, true, true, true, true, true, true, true, true, true, true, true];
