import { civilDay, dayOf } from "./days.js";
import { MS_PER_DAY, MS_PER_MINUTE, MS_PER_SECOND, type EpochMs, type WallMs } from "./time.js";

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
] as const;

/** The English name of a month, 1 to 12. */
export function monthName(month: number): string {
  return MONTHS[month - 1] ?? "";
}

/** `2025-02-28` (ISO 8601-1:2019, 5.2.2.1). */
export function isoDay(number: number): string {
  const { year, month, day } = civilDay(number);
  return `${isoMonth(year, month)}-${digits(day, 2)}`;
}

/** `2025-02` (ISO 8601-1:2019, 5.2.2.2). */
export function isoMonth(year: number, month: number): string {
  return `${digits(year, 4)}-${digits(month, 2)}`;
}

/** `14:30:05`, with `.250` only where the fraction is not zero. */
export function isoTime(msOfDay: number): string {
  const hours = Math.floor(msOfDay / (60 * MS_PER_MINUTE));
  const minutes = Math.floor(msOfDay / MS_PER_MINUTE) % 60;
  const seconds = Math.floor(msOfDay / MS_PER_SECOND) % 60;
  const fraction = msOfDay % MS_PER_SECOND;
  const whole = `${digits(hours, 2)}:${digits(minutes, 2)}:${digits(seconds, 2)}`;
  return fraction === 0 ? whole : `${whole}.${digits(fraction, 3)}`;
}

/** `2025-02-28T14:30:05`: a wall-clock time without zone. */
export function isoWall(wall: WallMs): string {
  const day = dayOf(wall);
  return `${isoDay(day)}T${isoTime(wall - day * MS_PER_DAY)}`;
}

/** `2025-02-28T14:30:05Z`: a point in time (RFC 3339). */
export function isoInstant(instant: EpochMs): string {
  return `${isoWall(instant as number as WallMs)}Z`;
}

/** `28 February 2025`: the long form in which dates are echoed to people. */
export function longDay(number: number): string {
  const { year, month, day } = civilDay(number);
  return `${day} ${monthName(month)} ${year}`;
}

/** `28 February 2025, 14:30`, with seconds and fraction only where they are not zero. */
export function longDateTime(wall: WallMs): string {
  const day = dayOf(wall);
  const time = isoTime(wall - day * MS_PER_DAY);
  return `${longDay(day)}, ${time.endsWith(":00") ? time.slice(0, 5) : time}`;
}

/** A whole number, padded with zeros on the left. */
export function digits(value: number, width: number): string {
  return String(value).padStart(width, "0");
}
