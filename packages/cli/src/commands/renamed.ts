import type { Command } from "commander";
import { UsageError } from "../context/failure.js";

/** Commands of earlier versions, and what they are called now. */
const COMMANDS: Readonly<Record<string, string>> = {
  attach: "sources attach",
  inside: "sources unnest",
  inspect: "sources cells",
  key: "keys",
  listing: "listings",
  loads: "sources imports",
  profile: "sources profile",
  repair: "sources repair",
  settle: "sources reading",
  stack: "sources combine",
  watch: "sources watch",
};

/** Refuses the names of earlier versions, each with the one that it has now. */
export function addRenamed(command: Command, names = COMMANDS, of = "orisma"): void {
  for (const [old, now] of Object.entries(names)) {
    command
      .command(old, { hidden: true })
      .argument("[rest...]")
      .allowUnknownOption()
      .helpOption(false)
      .action(() => {
        throw new UsageError(
          `${of} ${old} is now ${of} ${now}; ${of} ${now} --help shows how it is used`,
        );
      });
  }
}
