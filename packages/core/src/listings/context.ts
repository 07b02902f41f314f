import type { EpochMs, Zone } from "../calendar/index.js";
import type { Catalogue } from "../filters/index.js";
import type { Claims } from "../query/index.js";
import type { CompiledDateForm } from "../reading/index.js";
import type { CalendarSettings, WindowsByName } from "../windows/index.js";
import type { MomentParameter } from "./declaration.js";

/** Who reads an answer. */
export interface Viewer {
  /** Whether they may see all of the listing's declaration. */
  readonly isAuthor: boolean;
  /** The columns that they may see. */
  readonly columns: readonly string[];
}

/** What the meaning of a request depends on beside its parameters. */
export interface PlanContext {
  /** The instant of the request, which every page of an answer shares. */
  readonly asOf: EpochMs;
  readonly zone: Zone;
  readonly calendar: CalendarSettings;
  readonly columns: Catalogue;
  /** The name of the key that asks: the `caller()` of conditions. */
  readonly caller: string;
  /** What is known of whoever asks: `caller('lock')` of conditions. */
  readonly claims?: Claims;
  /** The reserved parameters that count only for some callers, and do for this one. */
  readonly allowed: readonly MomentParameter[];
  /** The windows that can be sent and declared by name; none by default. */
  readonly named?: WindowsByName;
  /** Who reads the answer; somebody who may see all of the source by default. */
  readonly viewer?: Viewer;
  /** The forms that parameters declare, ready for reading. */
  readonly forms: ReadonlyMap<string, CompiledDateForm>;
}
