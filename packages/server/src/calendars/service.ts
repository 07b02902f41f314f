import type { HolidayListDescription, Holiday } from "@orisma/contract";
import {
  fault,
  nameFault,
  type CalendarDeclaration,
  type ListingCalendar,
} from "@orisma/core/internal";
import type { DataSource } from "typeorm";
import { problemOf } from "../http/index.js";
import { HolidayList } from "./entities.js";
import { readHolidays } from "./read.js";

interface HeldList {
  readonly days: readonly Holiday[];
  readonly importedAt: number;
}

/** Named lists of days off, held in memory since every window of working days asks for one. */
export class HolidayLists {
  readonly #held = new Map<string, HeldList>();
  /** Counts up with every change, so that what was made of a list can be made again. */
  version = 0;

  constructor(
    private readonly dataSource: DataSource,
    private readonly now: () => number,
  ) {}

  async load(): Promise<void> {
    for (const { name, days, importedAt } of await this.dataSource
      .getRepository(HolidayList)
      .find()) {
      this.#held.set(name, { days, importedAt });
    }
  }

  list(): readonly HolidayListDescription[] {
    return [...this.#held.keys()].sort().map((name) => this.describe(name));
  }

  describe(name: string): HolidayListDescription {
    const { days, importedAt } = this.#need(name);
    return {
      name,
      days: days.length,
      first: days[0]?.day ?? null,
      last: days.at(-1)?.day ?? null,
      importedAt: new Date(importedAt).toISOString(),
    };
  }

  days(name: string): readonly Holiday[] {
    return this.#need(name).days;
  }

  /** Takes an iCalendar file under a name, instead of what was there. */
  async put(name: string, text: string) {
    const found = nameFault(name, "name");
    if (found !== null) throw problemOf([found]);
    const { days, skipped } = await readHolidays(text);
    const importedAt = this.now();
    await this.dataSource.getRepository(HolidayList).save({ name, days, importedAt });
    this.#held.set(name, { days, importedAt });
    this.version++;
    return { ...this.describe(name), skipped };
  }

  async remove(name: string): Promise<void> {
    this.#need(name);
    await this.dataSource.getRepository(HolidayList).delete({ name });
    this.#held.delete(name);
    this.version++;
  }

  /** A calendar with the days of its lists among its own; throws a problem for an unknown list. */
  withLists({ holidayLists = [], ...calendar }: ListingCalendar): CalendarDeclaration {
    if (holidayLists.length === 0) return calendar;
    const listed = holidayLists.flatMap((name) => this.#need(name).days.map(({ day }) => day));
    return { ...calendar, holidays: [...(calendar.holidays ?? []), ...listed] };
  }

  #need(name: string): HeldList {
    const held = this.#held.get(name);
    if (held !== undefined) return held;
    const known = [...this.#held.keys()];
    throw problemOf([fault("name.unknown", { what: "list of days off", name, known })]);
  }
}
