import { MS_PER_DAY, civilDay } from "../calendar/index.js";
import type { Window } from "./notation.js";
import type { ResolvedWindow } from "./resolve.js";
import type { CalendarSettings } from "./settings.js";

/**
 * What a fiscal year or quarter is called: `fiscal year 2026/27`, `quarter 3 of fiscal
 * year 2026/27`, by the civil years in which it begins and ends. Null for any other window.
 */
export function fiscalLabel(
  { alternatives }: Window,
  { intervals }: ResolvedWindow,
  { fiscalYear }: CalendarSettings,
): string | null {
  const [{ range, recurring }, ...others] = alternatives;
  const [interval, ...more] = intervals;
  const base = range.kind === "part" && range.part.shifts.length === 0 ? range.part.base : null;
  const isWhole = base?.kind === "unit" && base.nth === null && recurring.length === 0;
  if (!isWhole || others.length + more.length > 0 || interval?.start == null) return null;
  if (base.unit !== "fiscalyear" && base.unit !== "fiscalquarter") return null;
  const { year, month } = civilDay(Math.floor(interval.start.wall / MS_PER_DAY));
  const months = (month - fiscalYear.month + 12) % 12;
  const first = month < fiscalYear.month ? year - 1 : year;
  const isCivil = fiscalYear.month === 1 && fiscalYear.day === 1;
  const years = isCivil ? String(first) : `${first}/${String((first + 1) % 100).padStart(2, "0")}`;
  const label = `fiscal year ${years}`;
  return base.unit === "fiscalyear" ? label : `quarter ${months / 3 + 1} of ${label}`;
}
