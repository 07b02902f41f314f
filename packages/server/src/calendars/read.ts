import type { Holiday } from "@orisma/contract";
import { dayNumber, fault, isoDay } from "@orisma/core/internal";
import ICAL from "ical.js";
import { Turns, problemOf } from "../http/index.js";
import {
  RuleRefused,
  dayOfTime,
  recurringDays,
  type Budget,
  type DaysLookedAt,
} from "./recurrence.js";

/** Days that a list holds at most. */
export const MAX_HOLIDAYS = 10_000;
/** Events that recur at most: each of them is looked at on every day of three centuries. */
const MAX_RECURRING = 50;
/** The days of the years 1900 to 2199, in which events that recur are laid out. */
const LOOKED_AT: DaysLookedAt = { from: dayNumber(1_900, 1, 1), to: dayNumber(2_200, 1, 1) };
/** Days that the rules of one file are looked at on: every rule on each day of the three centuries. */
const MAX_DAYS_LOOKED_AT = MAX_RECURRING * (LOOKED_AT.to - LOOKED_AT.from);
/** Days that one event may go on for; beyond, it is no day off but a mistake. */
const LONGEST_EVENT_DAYS = 366;

/** What came of reading a calendar. */
export interface ReadCalendar {
  /** In order, each day once. */
  readonly days: readonly Holiday[];
  /** Events that are not whole days, and so were omitted. */
  readonly skipped: readonly string[];
}

/**
 * Reads the whole-day events of an iCalendar file as days off: from DTSTART up to DTEND, which is
 * not among them; those that recur in the years 1900 to 2199, without the days that EXDATE and
 * RECURRENCE-ID remove.
 *
 * Throws a problem for a text that is no calendar, that has too many days, or that has a rule
 * which is not read; the rule is named by its event.
 *
 * @see RFC 5545, sections 3.6.1 and 3.8.5
 */
export async function readHolidays(text: string): Promise<ReadCalendar> {
  const found = new Map<string, string>();
  const skipped: string[] = [];
  const components = parsed(text).getAllSubcomponents("vevent");
  const moved = movedDays(components);
  const recurring = components.filter((each) => each.getFirstProperty("rrule") !== null);
  if (recurring.length > MAX_RECURRING) {
    throw refuse(`it has more than ${MAX_RECURRING} events that recur`);
  }
  const budget = { days: MAX_DAYS_LOOKED_AT, turns: new Turns() };
  for (const component of components) {
    await budget.turns.pause();
    const event = new ICAL.Event(component);
    const label = (event.summary || "day off").slice(0, 128);
    const start = event.startDate as ICAL.Time | null;
    if (start?.isDate !== true) {
      skipped.push(label);
      continue;
    }
    // Without an end the event is its one day (section 3.6.1).
    const length = Math.max(1, event.duration.toSeconds() / 86_400);
    if (length > LONGEST_EVENT_DAYS) throw refuse(`“${label}” goes on for ${length} days`);
    for (const first of await occurrences(component, label, moved, budget)) {
      for (let day = first; day < first + length; day++) {
        const text = isoDay(day);
        if (!found.has(text)) found.set(text, label);
        if (found.size > MAX_HOLIDAYS) throw refuse(`it has more than ${MAX_HOLIDAYS} days`);
      }
    }
  }
  const days = [...found].map(([day, label]) => ({ day, label }));
  return { days: days.sort((a, b) => (a.day < b.day ? -1 : 1)), skipped };
}

/** Components inside one another at most; a calendar has three. */
const MAX_DEPTH = 10;

function parsed(text: string): ICAL.Component {
  let depth = 0;
  for (const [line] of text.matchAll(/^(?:BEGIN|END):/gim)) {
    depth += /^b/i.test(line) ? 1 : -1;
    if (depth > MAX_DEPTH) throw refuse(`its components are nested more than ${MAX_DEPTH} deep`);
  }
  try {
    const component = new ICAL.Component(ICAL.parse(text) as unknown[]);
    if (component.name === "vcalendar") return component;
  } catch {
    // Reported below: the library's own words speak of its insides.
  }
  throw refuse("it is not an iCalendar file, which begins with BEGIN:VCALENDAR");
}

/** The first day of each time that an event takes place, counted from 1970-01-01. */
async function occurrences(
  component: ICAL.Component,
  label: string,
  moved: ReadonlyMap<string, ReadonlySet<number>>,
  budget: Budget,
): Promise<readonly number[]> {
  const start = dayOfTime(new ICAL.Event(component).startDate);
  const days = [start, ...daysIn(component, "rdate")];
  try {
    for (const property of component.getAllProperties("rrule")) {
      const rule = property.getFirstValue() as ICAL.Recur;
      days.push(...(await recurringDays(rule, start, LOOKED_AT, budget)));
    }
    const away = new Set(daysIn(component, "exdate"));
    // An event that takes the place of another's day keeps its own.
    const isMoved = component.getFirstProperty("recurrence-id") !== null;
    const gone = isMoved ? undefined : moved.get(uidOf(component));
    return days.filter((day) => !away.has(day) && gone?.has(day) !== true);
  } catch (error) {
    if (error instanceof RuleRefused) throw refuse(`the rule of “${label}”: ${error.message}`);
    throw error;
  }
}

/** By the name of each event the days that others take the place of (section 3.8.4.4). */
function movedDays(
  components: readonly ICAL.Component[],
): ReadonlyMap<string, ReadonlySet<number>> {
  const moved = new Map<string, Set<number>>();
  for (const component of components) {
    const uid = uidOf(component);
    for (const day of daysIn(component, "recurrence-id")) {
      moved.set(uid, (moved.get(uid) ?? new Set()).add(day));
    }
  }
  return moved;
}

function uidOf(component: ICAL.Component): string {
  const uid = component.getFirstPropertyValue("uid");
  return typeof uid === "string" ? uid : "";
}

/** The days of a property that may have several values, and stand several times. */
function daysIn(component: ICAL.Component, name: string): readonly number[] {
  return component
    .getAllProperties(name)
    .flatMap((property) => property.getValues() as unknown[])
    .flatMap((value) => (value instanceof ICAL.Time ? [dayOfTime(value)] : []));
}

function refuse(reason: string) {
  return problemOf([fault("document.shape", { reason: `the file cannot be imported: ${reason}` })]);
}
