import type { OrismaClient } from "@orisma/client";
import type { Command } from "commander";
import { csvText, nearest } from "@orisma/core/internal";
import { UsageError } from "./failure.js";
import { drawTable, type TableColumn } from "../output/table.js";

/** What every command works with. */
export interface Context {
  /** The service; looked for only when a command asks. */
  readonly client: () => OrismaClient;
  /** Writes what was requested; waits for a slow reader, so that memory stays flat. */
  readonly print: (text: string) => Promise<void>;
  /** Writes what is reported beside it. */
  readonly note: (text: string) => void;
}

/** Examples for the end of a command's help. */
export function examples(...lines: readonly string[]): string {
  return `\nExamples:\n${lines.map((line) => `  ${line}\n`).join("")}`;
}

/** Gathers an option that may be given several times. */
export function collect(value: string, before: readonly string[]): readonly string[] {
  return [...before, value];
}

/** Adds the command that deletes something by its name. */
export function addDelete(
  parent: Command,
  description: string,
  { print }: Context,
  remove: (name: string) => Promise<void>,
): void {
  parent
    .command("delete")
    .description(description)
    .argument("<name>")
    .addHelpText("after", examples(`orisma ${parent.name()} delete NAME`))
    .action(async (name: string) => {
      await remove(name);
      await print(`${name} was deleted\n`);
    });
}

/** Adds the command that a group runs by default; another word is none of its commands. */
export function addListing(group: Command): Command {
  return withFormats(group.command("list", { isDefault: true }))
    .usage("[options]")
    .argument("[words...]")
    .hook("preAction", (_, command) => {
      const [word] = command.args;
      if (word === undefined) return;
      const names = group.commands.map((each) => each.name());
      const meant = nearest(word, names);
      const instead =
        meant !== null
          ? `did you mean orisma ${group.name()} ${meant}?`
          : names.includes("show")
            ? `orisma ${group.name()} show ${word} shows one of that name`
            : `its commands are ${names.join(", ")}`;
      throw new UsageError(`orisma ${group.name()} has no command ${word}; ${instead}`);
    });
}

/** How a list is wanted: for people unless one of these is set. */
export interface ListFormat {
  readonly json?: boolean;
  readonly csv?: boolean;
}

/** Adds the options of {@link ListFormat} to a command. */
export function withFormats(command: Command): Command {
  return command
    .option("--json", "print the service's answer")
    .option("--csv", "print comma-separated values");
}

/** A list in the wanted format; `answer` is what the service sent. */
export function listText(
  { json, csv }: ListFormat,
  answer: unknown,
  headings: readonly (string | TableColumn)[],
  rows: readonly (readonly string[])[],
): string {
  if (json === true && csv === true) throw new UsageError("--json and --csv cannot both be given");
  if (json === true) return toJson(answer);
  const columns = headings.map((each) => (typeof each === "string" ? { heading: each } : each));
  if (csv !== true) return drawTable(columns, rows);
  return csvText([columns.map(({ heading }) => heading), ...rows]);
}

/** A document of the service, as `--json` prints it. */
export function toJson(value: unknown): string {
  return `${JSON.stringify(value, null, 2)}\n`;
}
