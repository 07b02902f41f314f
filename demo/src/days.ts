import { monthName } from "@orisma/core/internal";

const MS_PER_DAY = 86_400_000;

/** A day, counted from 1970-01-01, in one of the forms of the trust's programs. */
export function written(
  day: number,
  form: "dd/MM/yyyy" | "yyMMdd" | "yyyy-MM-dd" | "yyyyMMdd" | "d MMMM yyyy" | "dd.MM.yy",
): string {
  const date = new Date(day * MS_PER_DAY);
  const pad = (value: number) => String(value).padStart(2, "0");
  const [dd, mm, yyyy] = [
    pad(date.getUTCDate()),
    pad(date.getUTCMonth() + 1),
    String(date.getUTCFullYear()),
  ];
  switch (form) {
    case "dd/MM/yyyy":
      return `${dd}/${mm}/${yyyy}`;
    case "yyMMdd":
      return `${yyyy.slice(2)}${mm}${dd}`;
    case "yyyy-MM-dd":
      return `${yyyy}-${mm}-${dd}`;
    case "yyyyMMdd":
      return `${yyyy}${mm}${dd}`;
    case "d MMMM yyyy":
      return `${Number(dd)} ${monthName(Number(mm))} ${yyyy}`;
    case "dd.MM.yy":
      return `${dd}.${mm}.${yyyy.slice(2)}`;
  }
}

export function yearOf(day: number): number {
  return new Date(day * MS_PER_DAY).getUTCFullYear();
}

/** The number of a day, counted from 1970-01-01. */
export function dayOf(year: number, month: number, day: number): number {
  return Date.UTC(year, month - 1, day) / MS_PER_DAY;
}

/** `14:05`, from minutes since midnight. */
export function clockText(minutes: number): string {
  const pad = (value: number) => String(value).padStart(2, "0");
  return `${pad(Math.floor(minutes / 60))}:${pad(minutes % 60)}`;
}
