import type { LADDER, LadderDescription, Shown } from "@orisma/contract";
import {
  MS_PER_DAY,
  NAMED_WINDOWS,
  calendarSettings,
  checkLadder,
  epochMs,
  fault,
  isWindowText,
  findZone,
  listWindows,
  listedWindowAnswer,
  nameFault,
  withLocation,
  withMeantValues,
  windowsByName,
  type Fault,
  type ListedWindowAnswer,
  type ListingCalendar,
  type NamedWindow,
  type WindowContext,
  type WindowsByName,
} from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import type { HolidayLists } from "../calendars/index.js";
import { Problem, problemOf } from "../http/index.js";
import { DeclaredWindow, Ladder } from "./entities.js";

type LadderSent = Shown<typeof LADDER>;

/** As-of days on which a ladder is seen to tile: any date of a year, a leap day among them. */
const DAYS_CHECKED = 4 * 366;

/** Where and when windows are requested. */
export interface Asked {
  readonly asOf?: string | undefined;
  readonly zone: string;
  readonly calendar?: ListingCalendar;
}

/** A ladder as it is held and stored. */
type HeldLadder = Readonly<Pick<Ladder, "name" | "label" | "zone" | "calendar" | "rungs">>;

/** Which listings named windows would break as they are to be, and why. */
type BrokenBy = (
  named: WindowsByName,
) => readonly { readonly listing: string; readonly reason: string }[];

/** Named windows and ladders: those that are always there, and those that were declared. */
export class NamedWindows {
  readonly #windows = new Map<string, NamedWindow>();
  readonly #ladders = new Map<string, HeldLadder>();
  #byName: WindowsByName | null = null;
  #brokenBy: BrokenBy = () => [];

  constructor(
    private readonly dataSource: DataSource,
    private readonly holidays: HolidayLists,
    private readonly now: () => number,
  ) {}

  async load(): Promise<void> {
    for (const each of await this.dataSource.getRepository(DeclaredWindow).find()) {
      this.#windows.set(each.name, each);
    }
    for (const each of await this.dataSource.getRepository(Ladder).find()) {
      this.#ladders.set(each.name, each);
    }
  }

  /** All windows by their names: the same map until one is declared or removed. */
  byName(): WindowsByName {
    this.#byName ??= windowsByName(this.#all());
    return this.#byName;
  }

  /** Says what stands on named windows: which listings they would break as they are to be. */
  supports(brokenBy: BrokenBy): void {
    this.#brokenBy = brokenBy;
  }

  /** What windows are resolved against; throws a problem with every fault of it. */
  context({ asOf, zone, calendar = {} }: Asked): WindowContext {
    const found = findZone(zone);
    const settings = calendarSettings(this.holidays.withLists(calendar));
    const faults = [
      ...(found.ok
        ? []
        : found.faults.map((each) => withLocation(each, { path: "zone", value: zone }))),
      ...(settings.ok ? [] : settings.faults),
    ];
    if (!found.ok || !settings.ok) throw problemOf(faults);
    return {
      asOf: epochMs(asOf === undefined ? this.now() : Date.parse(asOf)),
      zone: found.value,
      calendar: settings.value,
    };
  }

  /** The windows that were given a name, beside those that are always there. */
  declared(): readonly NamedWindow[] {
    return [...this.#windows.values()];
  }

  /** All named windows with their dates. */
  list(requested: Asked): readonly ListedWindowAnswer[] {
    return listed(this.#all(), this.context(requested));
  }

  /** Declares a named window, or changes one that was declared; throws a problem where it breaks listings. */
  async declare(name: string, { label, window }: Omit<NamedWindow, "name">): Promise<NamedWindow> {
    const declared = { name, label, window };
    mustBeFree(name, NAMED_WINDOWS);
    if (isWindowText(name)) throw problemOf([fault("name.taken", { name }, { path: "name" })]);
    // Resolved once, so that only what can be read is ever held.
    listed([declared], this.context({ zone: "UTC" }));
    this.#mustNotBreak(name, declared);
    await this.dataSource.getRepository(DeclaredWindow).save(declared);
    this.#windows.set(name, declared);
    this.#byName = null;
    return declared;
  }

  /** Removes a named window that was declared; throws a problem where listings use it. */
  async remove(name: string): Promise<void> {
    if (!this.#windows.has(name)) {
      const known = [...this.#windows.keys()];
      throw problemOf([fault("name.unknown", { what: "declared window", name, known })]);
    }
    this.#mustNotBreak(name, null);
    await this.dataSource.getRepository(DeclaredWindow).delete({ name });
    this.#windows.delete(name);
    this.#byName = null;
  }

  /** Throws a problem with the listings that would break if a name had another window, or none. */
  #mustNotBreak(name: string, declared: NamedWindow | null): void {
    const others = this.#all().filter((each) => each.name !== name);
    const changed = windowsByName(declared === null ? others : [...others, declared]);
    const broken = this.#brokenBy(changed);
    if (broken.length === 0) return;
    const detail =
      `Nothing was changed, since ${broken.map(({ listing }) => listing).join(", ")} would no longer be ` +
      `served: ${broken.map(({ listing, reason }) => `${listing}: ${reason}`).join("; ")}. ` +
      `Declare otherwise what needs the window ${name} first`;
    const faults = broken.map((each) => fault("listing.breaks", each));
    throw new Problem("breaks-listings", detail, faults);
  }

  ladders(requested: Pick<Asked, "asOf">): readonly LadderDescription[] {
    return [...this.#ladders.values()].map((ladder) => this.#ladderAnswer(ladder, requested));
  }

  ladder(name: string, requested: Pick<Asked, "asOf">): LadderDescription {
    const ladder = this.#ladders.get(name);
    if (ladder !== undefined) return this.#ladderAnswer(ladder, requested);
    const known = [...this.#ladders.keys()];
    throw problemOf([fault("name.unknown", { what: "ladder", name, known })]);
  }

  /**
   * Declares a ladder that was seen to tile on every day of four years; throws a problem with
   * each gap, overlap and empty rung.
   */
  async declareLadder(name: string, sent: LadderSent): Promise<LadderDescription> {
    const found = nameFault(name, "name");
    if (found !== null) throw problemOf([found]);
    const { calendar } = sent;
    const context = this.context({ zone: sent.zone, calendar });
    const rungs = this.#rungs(sent.rungs);
    const today = Math.floor(context.asOf / MS_PER_DAY);
    const faults = checkLadder(rungs, { from: today, to: today + DAYS_CHECKED }, context);
    if (!faults.ok) throw problemOf(withMeantValues(faults.faults, context));
    if (faults.value.length > 0) {
      throw problemOf(faults.value.map((each) => fault("ladder.untiled", each, { path: "rungs" })));
    }
    const ladder = { name, label: sent.label ?? name, zone: sent.zone, calendar, rungs };
    await this.dataSource.getRepository(Ladder).save(ladder);
    this.#ladders.set(name, ladder);
    return this.#ladderAnswer(ladder, {});
  }

  async removeLadder(name: string): Promise<void> {
    this.ladder(name, {});
    await this.dataSource.getRepository(Ladder).delete({ name });
    this.#ladders.delete(name);
  }

  #all(): readonly NamedWindow[] {
    return [...NAMED_WINDOWS, ...this.#windows.values()];
  }

  /** Rungs are kept as they were seen to tile, whatever becomes of the windows they are named by. */
  #rungs(sent: LadderSent["rungs"]): readonly NamedWindow[] {
    const all = this.#all();
    const faults: Fault[] = [];
    const rungs = sent.flatMap((rung, index) => {
      if (typeof rung !== "string") return [{ ...rung, label: rung.label ?? rung.name }];
      const found = all.find(({ name }) => name === rung);
      if (found !== undefined) return [found];
      const known = all.map(({ name }) => name);
      const place = { path: `rungs.${index}`, value: rung };
      faults.push(fault("rung.unknown", { name: rung, known }, place));
      return [];
    });
    if (faults.length > 0) throw problemOf(faults);
    return rungs.map(({ name, label, window }) => ({ name, label, window }));
  }

  #ladderAnswer({ name, label, zone, calendar, rungs }: HeldLadder, { asOf }: Pick<Asked, "asOf">) {
    const context = this.context({ zone, calendar, ...(asOf === undefined ? {} : { asOf }) });
    return { name, label, zone, rungs: listed(rungs, context) };
  }
}

function mustBeFree(name: string, known: readonly NamedWindow[]): void {
  const found = nameFault(name, "name");
  if (found !== null) throw problemOf([found]);
  if (known.some((each) => each.name === name)) throw problemOf([fault("name.taken", { name })]);
}

function listed(windows: readonly NamedWindow[], context: WindowContext) {
  const found = listWindows(windows, context);
  if (!found.ok) {
    const faults = withMeantValues(found.faults, context);
    throw problemOf(faults.map((each) => withLocation(each, { path: "window" })));
  }
  return found.value.map(listedWindowAnswer);
}
