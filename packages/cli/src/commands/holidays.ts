import { readFileSync } from "node:fs";
import type { Command } from "commander";
import {
  addRemoval,
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** `orisma holidays` with its own commands. */
export function addHolidays(command: Command, context: Context): void {
  const holidays = command
    .command("holidays")
    .description("list and take lists of days off, by which working days are counted");
  withFormats(holidays.command("list", { isDefault: true }))
    .description("list the lists, or the days of one")
    .argument("[name]")
    .action(async (name: string | undefined, format: ListFormat) => {
      if (name !== undefined) {
        const list = await context.client().holidayList(name);
        const days = list.holidays.map(({ day, label }) => [day, label]);
        await context.print(listText(format, list, ["day", "called"], days));
        return;
      }
      const lists = await context.client().holidayLists();
      const rows = lists.map(({ name, days, first, last, takenAt }) => [
        name,
        String(days),
        first ?? "",
        last ?? "",
        takenAt,
      ]);
      const headings = ["list", { heading: "days", right: true }, "first", "last", "taken at"];
      await context.print(listText(format, lists, headings, rows));
    });
  holidays
    .command("take")
    .description("take the whole-day events of an iCalendar file as days off")
    .argument("<name>")
    .argument("<file>")
    .addHelpText("after", examples("orisma holidays take brindle-vale days-off.ics"))
    .action(async (name: string, file: string) => {
      const { days, first, last, left } = await context
        .client()
        .takeHolidays(name, contentOf(file));
      await context.print(`${name}: ${days} days off, ${first ?? "none"} to ${last ?? "none"}\n`);
      if (left.length > 0) {
        context.note(`Left out, being no whole days: ${left.slice(0, 10).join(", ")}\n`);
      }
    });
  addRemoval(holidays, "end a list", context, (name) => context.client().removeHolidays(name));
}

function contentOf(file: string): string {
  try {
    return readFileSync(file, "utf8");
  } catch {
    throw new UsageError(`${file} cannot be read`);
  }
}
