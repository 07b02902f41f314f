import { Command, CommanderError } from "commander";
import { addCompare } from "./commands/compare.js";
import { addDatabases } from "./commands/databases.js";
import { addAround } from "./commands/around.js";
import { addExplain } from "./commands/explain.js";
import { addWhy } from "./commands/why.js";
import { addHolidays } from "./commands/holidays.js";
import { addImport } from "./commands/import.js";
import { addInspect } from "./commands/inspect.js";
import { addKey } from "./commands/key.js";
import { addListings } from "./commands/listings.js";
import { addLoads } from "./commands/loads.js";
import { addProfile } from "./commands/profile.js";
import { addRead } from "./commands/read.js";
import { addRecords } from "./commands/records.js";
import { addRepair, addWatch } from "./commands/repair.js";
import { addSettle } from "./commands/settle.js";
import { addSources } from "./commands/sources.js";
import { addTranslate } from "./commands/translate.js";
import { addWindow } from "./commands/window.js";
import { addWindows } from "./commands/windows.js";
import { connect, type Surroundings } from "./context/connection.js";
import { EXIT, exitCodeOf, failureText } from "./context/failure.js";

/**
 * Runs the command with its arguments and gives its exit code: 0 done, 1 failed, 2 used
 * wrongly. What was asked for goes to standard output, all else to standard error.
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
    note(failureText(error));
    return exitCodeOf(error);
  }
}

function program(surroundings: Surroundings): Command {
  const command = new Command("orisma")
    .description("Date range and date window filters on record listings")
    .exitOverride()
    .showHelpAfterError("(orisma COMMAND --help shows examples)")
    .helpCommand(false);
  const context = { client: () => connect(surroundings), print, note };
  addRecords(command, context);
  addCompare(command, context);
  addExplain(command, context);
  addWhy(command, context);
  addAround(command, context);
  addImport(command, context);
  addInspect(command, context);
  addLoads(command, context);
  addProfile(command, context);
  addRead(command, context);
  addSettle(command, context);
  addRepair(command, context);
  addSources(command, context);
  addDatabases(command, context);
  addWatch(command, context);
  addTranslate(command, context);
  addWindow(command, context);
  addWindows(command, context);
  addHolidays(command, context);
  addListings(command, context);
  addKey(command, context);
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
