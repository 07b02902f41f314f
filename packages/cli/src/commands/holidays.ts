import { readFileSync } from "node:fs";
import type { Command } from "commander";
import {
  addDelete,
  addListing,
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
    .helpCommand(false)
    .description("List, import and delete lists of holidays, for counting working days")
    .addHelpText(
      "after",
      examples("orisma holidays", "orisma holidays import brindle-vale days-off.ics"),
    );
  addListing(holidays)
    .description("List the holiday lists (the default)")
    .addHelpText("after", examples("orisma holidays"))
    .action(async (_words: readonly string[], format: ListFormat) => {
      const lists = await context.client().holidayLists();
      const rows = lists.map(({ name, days, first, last, importedAt }) => [
        name,
        String(days),
        first ?? "",
        last ?? "",
        importedAt,
      ]);
      const headings = ["list", { heading: "days", right: true }, "first", "last", "imported at"];
      await context.print(listText(format, lists, headings, rows));
    });
  withFormats(holidays.command("show"))
    .description("List the days of a holiday list")
    .argument("<list>")
    .addHelpText("after", examples("orisma holidays show trust"))
    .action(async (name: string, format: ListFormat) => {
      const list = await context.client().holidayList(name);
      const days = list.holidays.map(({ day, label }) => [day, label]);
      await context.print(listText(format, list, ["day", "name"], days));
    });
  holidays
    .command("import")
    .description("Import the whole-day events of an iCalendar file as holidays")
    .argument("<name>")
    .argument("<file>")
    .addHelpText("after", examples("orisma holidays import brindle-vale days-off.ics"))
    .action(async (name: string, file: string) => {
      const { days, first, last, skipped } = await context
        .client()
        .importHolidays(name, contentOf(file));
      await context.print(
        `${name}: ${days} ${days === 1 ? "holiday" : "holidays"}, ${first ?? "none"} to ${last ?? "none"}\n`,
      );
      if (skipped.length > 0) {
        context.note(
          `Not imported, since they are not whole days: ${skipped.slice(0, 10).join(", ")}\n`,
        );
      }
    });
  addDelete(holidays, "Delete a holiday list", context, (name) =>
    context.client().deleteHolidays(name),
  );
}

function contentOf(file: string): string {
  try {
    return readFileSync(file, "utf8");
  } catch {
    throw new UsageError(`${file} cannot be read`);
  }
}
