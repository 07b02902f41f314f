import type { ListedWindowAnswer } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  addRemoval,
  collect,
  examples,
  listText,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";

interface WhenAsked extends ListFormat {
  readonly asOf?: string;
  readonly zone?: string;
}

const HEADINGS = ["name", "label", "window", { heading: "dates", whole: true }] as const;

/** `orisma windows` and `orisma ladders`, with their own commands. */
export function addWindows(command: Command, context: Context): void {
  const windows = command
    .command("windows")
    .description("list the windows that have a name, give windows names");
  withFormats(windows.command("list", { isDefault: true }))
    .description("list them with their dates")
    .option("--as-of <instant>", "the instant of asking; now unless given")
    .option("--zone <zone>", "time zone", "UTC")
    .addHelpText("after", examples("orisma windows", "orisma windows --zone Europe/London"))
    .action(async ({ asOf, zone, ...format }: WhenAsked) => {
      const asked = {
        ...(asOf === undefined ? {} : { asOf }),
        ...(zone === undefined ? {} : { zone }),
      };
      const listed = await context.client().namedWindows(asked);
      await context.print(listText(format, listed, HEADINGS, listed.map(rowOf)));
    });
  windows
    .command("name")
    .description("give a window a name, or a name another window")
    .argument("<name>")
    .argument("<window>")
    .requiredOption("--label <label>", "what people read")
    .addHelpText(
      "after",
      examples(
        "orisma windows name dredging-season 'year;BYMONTH=9..11' --label 'the dredging season'",
      ),
    )
    .action(async (name: string, window: string, { label }: { label: string }) => {
      await context.client().declareWindow(name, { label, window });
      await context.print(`${name} is ${window}\n`);
    });
  addRemoval(windows, "end a name", context, (name) => context.client().removeWindow(name));
  addLadders(command, context);
}

function addLadders(command: Command, context: Context): void {
  const ladders = command
    .command("ladders")
    .description("list and declare sets of windows that tile a stretch");
  withFormats(ladders.command("list", { isDefault: true }))
    .description("list them with the dates of their rungs")
    .option("--as-of <instant>", "the instant of asking; now unless given")
    .action(async ({ asOf, ...format }: WhenAsked) => {
      const found = await context.client().ladders(asOf === undefined ? {} : { asOf });
      const rows = found.flatMap(({ name, rungs }) => rungs.map((rung) => [name, ...rowOf(rung)]));
      await context.print(listText(format, found, ["ladder", ...HEADINGS], rows));
    });
  ladders
    .command("declare")
    .description("declare a ladder, which is seen to tile on every day of four years")
    .argument("<name>")
    .option("--rung <window>", "a named window, or NAME=WINDOW, in order", collect, [])
    .option("--label <label>", "what people read")
    .option("--zone <zone>", "time zone", "UTC")
    .addHelpText(
      "after",
      examples(
        "orisma ladders declare due --rung overdue --rung today --rung later=tomorrow/.. --zone Europe/London",
      ),
    )
    .action(async (name: string, options: { rung: string[]; label?: string; zone: string }) => {
      const { rung, label, zone } = options;
      if (rung.length < 2) throw new UsageError("a ladder has two rungs at least: --rung …");
      const { rungs } = await context.client().declareLadder(name, {
        zone,
        rungs: rung.map(rungOf),
        ...(label === undefined ? {} : { label }),
      });
      await context.print(`${name} tiles: ${rungs.map((each) => each.label).join(", ")}\n`);
    });
  addRemoval(ladders, "end a ladder; the windows keep their names", context, (name) =>
    context.client().removeLadder(name),
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
