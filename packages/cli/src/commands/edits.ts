import type { EditDescription, EditPolicy } from "@orisma/client";
import type { RecordValue } from "@orisma/core/internal";
import type { Command } from "commander";
import {
  collect,
  examples,
  listText,
  toJson,
  withFormats,
  type Context,
  type ListFormat,
} from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { countOf } from "../output/report.js";
import { valuesOf } from "./copies.js";

/** `orisma edit`, `orisma act` and `orisma edits`: changing records, and what was changed. */
export function addEdits(command: Command, context: Context): void {
  addEdit(command, context);
  addAct(command, context);
  const edits = command
    .command("edits")
    .helpCommand(false)
    .description("Edits of records: what was changed, by whom, and taking it back")
    .addHelpText("after", examples("orisma edits list works-open"));
  addHistory(edits, context);
  addUndo(edits, context);
}

function addEdit(command: Command, context: Context): void {
  command
    .command("edit")
    .description("Edit cells of a record that a listing lets be edited")
    .argument("<listing>")
    .argument("<id>", "the record")
    .argument("<values...>", "as column=value; nothing after = empties the cell")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma edit works-open W-250301-1 status=done finished_on=today",
        "orisma edit works-open W-250301-1 finished_on=",
      ),
    )
    .action(async (listing: string, id: string, sent: string[], options: AsJson) => {
      const client = context.client();
      const values = Object.fromEntries(
        Object.entries(valuesOf(sent)).map(([column, all]) => {
          if (all.length > 1) throw new UsageError(`${column} is given ${all.length} times`);
          return [column, all[0] === "" ? null : (all[0] ?? null)];
        }),
      );
      const { record: before, etag } = await client.recordToEdit(listing, id);
      const edited = await client.editRecord(listing, id, values, { etag });
      if (options.json === true) {
        await context.print(toJson(edited));
        return;
      }
      const { record, edit, notices } = edited;
      const changes = Object.keys(values).map(
        (column) =>
          `  ${column}: ${shown(before[column])} → ${record === null ? shown(values[column]) : shown(record[column])}\n`,
      );
      const text =
        edit === null
          ? `${id} was so already: nothing was changed\n`
          : `edit ${edit} of ${id}:\n${changes.join("")}`;
      await context.print(`${text}${notices.map((each) => `${each}\n`).join("")}`);
    });
}

interface AsJson {
  readonly json?: boolean;
}

interface ActOptions extends AsJson {
  readonly id: readonly string[];
  readonly yes?: boolean;
}

function addAct(command: Command, context: Context): void {
  command
    .command("act")
    .description("Make a change that a listing names: of some records, or of all that it keeps")
    .argument("<listing>")
    .argument("<action>", "its name")
    .argument("[parameters...]", "which records, as parameter=value")
    .option("--id <id>", "only this record; repeat for more", collect, [])
    .option("--yes", "do it; without it the records are only counted")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma act works-open finish --id W-250301-1",
        "orisma act works-open finish lock=Brindle --yes",
      ),
    )
    .action(async (listing: string, action: string, sent: string[], options: ActOptions) => {
      const client = context.client();
      const parameters = valuesOf(sent);
      const { id: ids, yes = false } = options;
      if (ids.length > 0 && sent.length > 0) {
        throw new UsageError("give either --id or parameters, which choose the records");
      }
      const isCount = ids.length === 0;
      const counted = isCount
        ? await client.act(listing, action, { dryRun: true }, parameters)
        : null;
      if (counted !== null && !yes) {
        const text =
          `${action} would change ${counted.changed} of ${countOf(counted.records)}; ` +
          "nothing was changed: --yes does it\n";
        await context.print(options.json === true ? toJson(counted) : text);
        return;
      }
      const which = counted === null ? { ids: [...ids] } : { expected: counted.records };
      const report = await client.act(listing, action, which, parameters);
      const { changed, records, left, edit } = report;
      const gone = (left ?? 0) > 0 ? `${countOf(left ?? 0)} left the listing by it\n` : "";
      const text =
        edit === null
          ? `${countOf(records)}, all so already: nothing was changed\n`
          : `edit ${edit}: ${action} changed ${changed} of ${countOf(records)}\n${gone}`;
      await context.print(options.json === true ? toJson(report) : text);
    });
}

function addHistory(edits: Command, context: Context): void {
  withFormats(edits.command("list"))
    .description("List the edits of a listing, or those of a record")
    .argument("<listing>")
    .argument("[record]", "the id of a record")
    .option("--limit <count>", "edits at most", "20")
    .addHelpText(
      "after",
      examples("orisma edits list works-open", "orisma edits list works-open W-250301-1"),
    )
    .action(
      async (
        listing: string,
        record: string | undefined,
        options: ListFormat & { readonly limit: string },
      ) => {
        if (!/^\d{1,4}$/.test(options.limit)) throw new UsageError("--limit takes a whole number");
        const query = { limit: Number(options.limit), ...(record === undefined ? {} : { record }) };
        const all = await context.client().edits(listing, query);
        const right = true;
        const headings = [
          { heading: "edit", right },
          "at (UTC)",
          "by",
          "what",
          { heading: "records", right },
          "cells",
        ];
        const rows = all.map((each) => [
          String(each.number),
          each.at.slice(0, 16).replace("T", " "),
          each.by,
          whatText(each),
          String(each.records),
          cellsText(each),
        ]);
        await context.print(listText(options, all, headings, rows));
      },
    );
}

function addUndo(edits: Command, context: Context): void {
  edits
    .command("undo")
    .description("Take an edit back, where its cells are still as it made them")
    .argument("<listing>")
    .argument("<edit>", "its number")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma edits undo works-open 12"))
    .action(async (listing: string, number: string, options: AsJson) => {
      if (!/^\d{1,9}$/.test(number)) throw new UsageError(`“${number}” is no number of an edit`);
      const report = await context.client().undoEdit(listing, Number(number));
      const text = `edit ${number} was taken back: ${countOf(report.changed)} changed\n`;
      await context.print(options.json === true ? toJson(report) : text);
    });
}

/** `orisma sources edits`. */
export function addEditPolicy(sources: Command, context: Context): void {
  sources
    .command("edits")
    .description("Say what becomes of edits that an import would overwrite")
    .argument("<source>")
    .argument("<policy>", "preserve, overwrite, or report: refuse the import and list them")
    .addHelpText("after", examples("orisma sources edits works preserve"))
    .action(async (source: string, policy: string) => {
      const { edits } = await context.client().setEditPolicy(source, policyOf(policy));
      await context.print(`an import of ${source} ${POLICIES[edits]}\n`);
    });
}

/** What an import does with edits that it would overwrite. */
const POLICIES: Readonly<Record<EditPolicy, string>> = {
  preserve: "makes edits again that it would overwrite",
  overwrite: "overwrites edits",
  report: "is refused where it would overwrite edits, and lists them",
};

/** One of the policies; a usage error for another word. */
export function policyOf(text: string): EditPolicy {
  const known = Object.keys(POLICIES) as EditPolicy[];
  const found = known.find((each) => each === text);
  if (found === undefined) throw new UsageError(`edits are one of ${known.join(", ")}`);
  return found;
}

function whatText({ action, undoes, undoneBy, listing }: EditDescription): string {
  const what = undoes === null ? (action ?? "edit") : `undo of ${undoes}`;
  const where = listing === null ? "repair" : what;
  return undoneBy === null ? where : `${where}, undone by ${undoneBy}`;
}

/** Cells that are shown of an edit at most. */
const MAX_CELLS = 3;

function cellsText({ cells }: EditDescription): string {
  const shownCells = cells
    .slice(0, MAX_CELLS)
    .map(({ id, column, before, after }) => `${id} ${column}: ${shown(before)} → ${shown(after)}`);
  const rest = cells.length - shownCells.length;
  return shownCells.join("; ") + (rest > 0 ? "; …" : "");
}

function shown(value: RecordValue | undefined): string {
  if (value === null || value === undefined || value === "") return "(blank)";
  return Array.isArray(value) ? value.join(", ") : String(value);
}
