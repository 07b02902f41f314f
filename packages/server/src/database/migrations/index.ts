import { Audit1765100000000 } from "./audit.js";
import { Attached1764300000000 } from "./attached.js";
import { ChangedRecords1765900000000 } from "./changed-records.js";
import { Deliveries1765800000000 } from "./deliveries.js";
import { Dictionaries1765200000000 } from "./dictionaries.js";
import { Edits1765500000000 } from "./edits.js";
import { Feeds1765400000000 } from "./feeds.js";
import { FilterColumns1764800000000 } from "./filter-columns.js";
import { FirstCut1764000000000 } from "./first-cut.js";
import { FormerNames1765300000000 } from "./former-names.js";
import { Identities1766000000000 } from "./identities.js";
import { Ids1764700000000 } from "./ids.js";
import { Keys1764600000000 } from "./keys.js";
import { Imports1765000000000 } from "./imports.js";
import { Loads1764100000000 } from "./loads.js";
import { Nested1764400000000 } from "./nested.js";
import { Overrides1765600000000 } from "./overrides.js";
import { PendingEdits1766100000000 } from "./pending-edits.js";
import { People1765700000000 } from "./people.js";
import { PlainWords1764900000000 } from "./plain-words.js";
import { LastUses1766600000000 } from "./last-uses.js";
import { Views1766400000000 } from "./views.js";
import { Versions1764500000000 } from "./versions.js";
import { WatchLooks1766300000000 } from "./watch-looks.js";
import { Windows1764200000000 } from "./windows.js";
import { WrittenNumbers1766200000000 } from "./written-numbers.js";

/** Every change of the service's own tables, in their order. */
export const MIGRATIONS = [
  FirstCut1764000000000,
  Loads1764100000000,
  Windows1764200000000,
  Attached1764300000000,
  Nested1764400000000,
  Versions1764500000000,
  Keys1764600000000,
  Ids1764700000000,
  FilterColumns1764800000000,
  PlainWords1764900000000,
  Imports1765000000000,
  Audit1765100000000,
  Dictionaries1765200000000,
  FormerNames1765300000000,
  Feeds1765400000000,
  Edits1765500000000,
  Overrides1765600000000,
  People1765700000000,
  Deliveries1765800000000,
  ChangedRecords1765900000000,
  Identities1766000000000,
  PendingEdits1766100000000,
  WrittenNumbers1766200000000,
  WatchLooks1766300000000,
  Views1766400000000,
  LastUses1766600000000,
] as const;
