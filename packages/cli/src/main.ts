import { createRequire } from "node:module";
import { Command, CommanderError, Help } from "commander";
import { addCompletion } from "./commands/completion.js";
import { addCompare } from "./commands/compare.js";
import { addDatabases } from "./commands/databases.js";
import { addAround } from "./commands/around.js";
import { addDeliveries } from "./commands/deliveries.js";
import { addEdits } from "./commands/edits.js";
import { addExplain } from "./commands/explain.js";
import { addWhy } from "./commands/why.js";
import { addFeeds } from "./commands/feeds.js";
import { addHolidays } from "./commands/holidays.js";
import { addImport } from "./commands/import.js";
import { addKeys } from "./commands/keys.js";
import { addListings } from "./commands/listings.js";
import { addOverrides } from "./commands/overrides.js";
import { addPeople } from "./commands/people.js";
import { addRead } from "./commands/read.js";
import { addRecords } from "./commands/records.js";
import { addRenamed } from "./commands/renamed.js";
import { addSources } from "./commands/sources.js";
import { addTranslate } from "./commands/translate.js";
import { addUpkeep } from "./commands/upkeep.js";
import { addWindow } from "./commands/window.js";
import { addWindows } from "./commands/windows.js";
import { connect, type Surroundings } from "./context/connection.js";
import { EXIT, exitCodeOf, failureJson, failureText } from "./context/failure.js";

/**
 * Runs the command with its arguments and gives its exit code: 0 done, 1 failed, 2 used
 * wrongly. What was requested goes to standard output, all else to standard error.
 */
export async function main(
  words: readonly string[],
  surroundings: Surroundings = { environment: process.env, folder: process.cwd() },
): Promise<number> {
  // A reader that has seen enough, such as head, closes the pipe; that is no failure.
  process.stdout.on("error", (error: NodeJS.ErrnoException) => {
    if (error.code === "EPIPE") process.exit(EXIT.done);
  });
  try {
    await program(surroundings).parseAsync([...words], { from: "user" });
    return EXIT.done;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.done : EXIT.usedWrongly;
    note(words.includes("--json") ? failureJson(error) : failureText(error));
    return exitCodeOf(error);
  }
}

/** The version of this package. */
const VERSION = (createRequire(import.meta.url)("../package.json") as { readonly version: string })
  .version;

const AFTER = `
Examples:
  orisma records works-raised --from 2025-02 --to 2025-02 --csv
Exit codes: 0 done, 1 failed, 2 used wrongly. With --json a failure is JSON too, on standard error.`;

function program(surroundings: Surroundings): Command {
  const command = new Command("orisma")
    .description("Date range and date window filters on record listings")
    .exitOverride()
    .version(VERSION)
    .configureHelp({
      helpWidth: 100,
      subcommandTerm: (each) => each.name(),
      // A list that is empty at first has no default to show.
      optionDescription: (option) =>
        Array.isArray(option.defaultValue)
          ? option.description
          : new Help().optionDescription(option),
    })
    .showHelpAfterError("(orisma COMMAND --help shows examples)")
    .addHelpText("after", AFTER)
    .helpCommand(false);
  const context = { client: () => connect(surroundings), print, note };
  command.commandsGroup("Records of a listing:");
  addRecords(command, context);
  addCompare(command, context);
  addExplain(command, context);
  addWhy(command, context);
  addEdits(command, context);
  addAround(command, context);
  command.commandsGroup("What the service keeps:");
  addImport(command, context);
  addSources(command, context);
  addListings(command, context);
  addWindows(command, context);
  addOverrides(command, context);
  addFeeds(command, context);
  addDeliveries(command, context);
  addHolidays(command, context);
  addDatabases(command, context);
  addKeys(command, context);
  addPeople(command, context);
  command.commandsGroup("Running the service:");
  addUpkeep(command, context);
  command.commandsGroup("Without a service:");
  addRead(command, context);
  addWindow(command, context);
  addTranslate(command, context);
  addCompletion(command, context);
  addRenamed(command);
  return command;
}

/** Waits for a slow reader, so that memory stays flat. */
function print(text: string): Promise<void> {
  return new Promise((resolve) => {
    if (process.stdout.write(text)) resolve();
    else process.stdout.once("drain", resolve);
  });
}

function note(text: string): void {
  process.stderr.write(text);
}
