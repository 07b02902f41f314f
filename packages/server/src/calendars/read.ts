import { dayNumber, fault, isoDay } from "@orisma/core";
import ICAL from "ical.js";
import { problemOf } from "../http/index.js";
import type { Holiday } from "./entities.js";

/** Days that a list holds at most. */
export const MOST_HOLIDAYS = 10_000;
/** The years in which events that recur are laid out. */
const YEARS = { first: 1_900, last: 2_199 };
/** Days that one event may go on for; beyond, it is no day off but a mistake. */
const LONGEST_EVENT_DAYS = 366;

/** What came of reading a calendar. */
export interface ReadCalendar {
  /** In order, each day once. */
  readonly days: readonly Holiday[];
  /** Events that are no whole days, and so were left out. */
  readonly left: readonly string[];
}

/**
 * Reads the whole-day events of an iCalendar file as days off: from DTSTART up to DTEND, which is
 * not among them; those that recur in the years 1900 to 2199.
 *
 * Throws a problem for a text that is no calendar, or that has too many days.
 *
 * @see RFC 5545, sections 3.6.1 and 3.8.5
 */
export function readHolidays(text: string): ReadCalendar {
  const found = new Map<string, string>();
  const left: string[] = [];
  for (const component of parsed(text).getAllSubcomponents("vevent")) {
    const event = new ICAL.Event(component);
    const label = (event.summary || "day off").slice(0, 128);
    const start = event.startDate as ICAL.Time | null;
    if (start?.isDate !== true) {
      left.push(label);
      continue;
    }
    // Without an end the event is its one day (section 3.6.1).
    const length = Math.max(1, event.duration.toSeconds() / 86_400);
    if (length > LONGEST_EVENT_DAYS) throw refuse(`“${label}” goes on for ${length} days`);
    for (const first of occurrences(event, start)) {
      for (let day = first; day < first + length; day++) {
        const text = isoDay(day);
        if (!found.has(text)) found.set(text, label);
        if (found.size > MOST_HOLIDAYS) throw refuse(`it has more than ${MOST_HOLIDAYS} days`);
      }
    }
  }
  const days = [...found].map(([day, label]) => ({ day, label }));
  return { days: days.sort((a, b) => (a.day < b.day ? -1 : 1)), left };
}

function parsed(text: string): ICAL.Component {
  try {
    const component = new ICAL.Component(ICAL.parse(text) as unknown[]);
    if (component.name === "vcalendar") return component;
  } catch {
    // Told below: the library's own words speak of its insides.
  }
  throw refuse("it is not an iCalendar file, which begins with BEGIN:VCALENDAR");
}

/** The first day of each time that an event takes place, counted from 1970-01-01. */
function occurrences(event: ICAL.Event, start: ICAL.Time): readonly number[] {
  if (!event.isRecurring()) return [dayNumberOf(start)];
  const days: number[] = [];
  const iterator = event.iterator();
  for (let next = iterator.next() as ICAL.Time | null; next != null; next = iterator.next()) {
    if (next.year > YEARS.last || days.length > MOST_HOLIDAYS) break;
    if (next.year >= YEARS.first) days.push(dayNumberOf(next));
  }
  return days;
}

function dayNumberOf({ year, month, day }: ICAL.Time): number {
  return dayNumber(year, month, day);
}

function refuse(reason: string) {
  return problemOf([fault("document.shape", { reason: `the file cannot be taken: ${reason}` })]);
}
