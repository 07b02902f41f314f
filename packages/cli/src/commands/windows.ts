import type { ListedWindowAnswer } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  addDelete,
  addListing,
  collect,
  examples,
  listText,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";

interface MomentQuery extends ListFormat {
  readonly asOf?: string;
  readonly zone?: string;
}

const HEADINGS = ["name", "label", "window", { heading: "dates", whole: true }] as const;

/** `orisma windows` and `orisma ladders`, with their own commands. */
export function addWindows(command: Command, context: Context): void {
  const windows = command
    .command("windows")
    .helpCommand(false)
    .description("List, declare and delete named windows")
    .addHelpText(
      "after",
      examples(
        "orisma windows",
        "orisma windows declare dredging-season 'year;BYMONTH=9..11' --label 'the dredging season'",
      ),
    );
  addListing(windows)
    .description("List named windows with their dates (the default)")
    .option("--as-of <instant>", "a date or an instant; by default now")
    .option("--zone <zone>", "time zone", "UTC")
    .addHelpText("after", examples("orisma windows", "orisma windows --zone Europe/London"))
    .action(async (_words: readonly string[], { asOf, zone, ...format }: MomentQuery) => {
      const requested = {
        ...(asOf === undefined ? {} : { asOf }),
        ...(zone === undefined ? {} : { zone }),
      };
      const listed = await context.client().namedWindows(requested);
      await context.print(listText(format, listed, HEADINGS, listed.map(rowOf)));
    });
  windows
    .command("declare")
    .description("Give a window a name")
    .argument("<name>")
    .argument("<window>")
    .requiredOption("--label <label>", "what people read")
    .addHelpText(
      "after",
      examples(
        "orisma windows declare dredging-season 'year;BYMONTH=9..11' --label 'the dredging season'",
      ),
    )
    .action(async (name: string, window: string, { label }: { label: string }) => {
      await context.client().declareWindow(name, { label, window });
      await context.print(`${name} is ${window}\n`);
    });
  addDelete(windows, "Delete a named window", context, (name) =>
    context.client().deleteWindow(name),
  );
  addLadders(command, context);
}

function addLadders(command: Command, context: Context): void {
  const ladders = command
    .command("ladders")
    .helpCommand(false)
    .description("List, declare and delete ladders: windows without gaps or overlaps")
    .addHelpText(
      "after",
      examples(
        "orisma ladders",
        "orisma ladders declare due --rung overdue --rung today --rung later=tomorrow/..",
      ),
    );
  addListing(ladders)
    .description("List ladders with the dates of their rungs (the default)")
    .option("--as-of <instant>", "a date or an instant; by default now")
    .addHelpText("after", examples("orisma ladders"))
    .action(async (_words: readonly string[], { asOf, ...format }: MomentQuery) => {
      const found = await context.client().ladders(asOf === undefined ? {} : { asOf });
      const rows = found.flatMap(({ name, rungs }) => rungs.map((rung) => [name, ...rowOf(rung)]));
      await context.print(listText(format, found, ["ladder", ...HEADINGS], rows));
    });
  ladders
    .command("declare")
    .description("Declare a ladder; it is checked for gaps and overlaps on every day of four years")
    .argument("<name>")
    .option("--rung <window>", "a named window, or NAME=WINDOW, in order", collect, [])
    .option("--label <label>", "what people read")
    .option("--zone <zone>", "time zone", "UTC")
    .addHelpText(
      "after",
      examples(
        "orisma ladders declare due --zone Europe/London --rung overdue --rung today \\\n" +
          "    --rung later=tomorrow/..",
      ),
    )
    .action(async (name: string, options: { rung: string[]; label?: string; zone: string }) => {
      const { rung, label, zone } = options;
      if (rung.length < 2)
        throw new UsageError("a ladder needs two rungs or more: --rung NAME=WINDOW");
      const { rungs } = await context.client().declareLadder(name, {
        zone,
        rungs: rung.map(rungOf),
        ...(label === undefined ? {} : { label }),
      });
      await context.print(
        `${name} has no gaps or overlaps: ${rungs.map((each) => each.label).join(", ")}\n`,
      );
    });
  addDelete(ladders, "Delete a ladder; its windows stay", context, (name) =>
    context.client().deleteLadder(name),
  );
}

function rungOf(text: string) {
  const equals = text.indexOf("=");
  if (equals < 1) return text;
  return { name: text.slice(0, equals), window: text.slice(equals + 1) };
}

function rowOf({ name, label, window, sentence }: ListedWindowAnswer): readonly string[] {
  return [name, label, window, sentence.replace(/, [^,]*$/, "")];
}
