import type { ComparedAnswer, RecordsComparison, TotalAnswer } from "@orisma/core/internal";
import { InvalidArgumentError, type Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";
import { drawTable } from "../output/table.js";

interface CompareOptions {
  readonly before: string;
  readonly after: string;
  readonly size: number;
  readonly json?: boolean;
}

/** `orisma compare`. */
export function addCompare(command: Command, context: Context): void {
  command
    .command("compare")
    .description("Show which records are removed and added between two requests")
    .argument("<listing>")
    .option("--before <parameters>", "as in an address: 'from=2025-01&to=2025-03'", "")
    .option("--after <parameters>", "likewise", "")
    .option("--size <records>", "records of each difference that are shown", sizeIn, 20)
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma compare works-raised --before from=2025-01 --after from=2025-02",
        "orisma compare works-raised --after from=2025-02",
      ),
    )
    .action(async (listing: string, { before, after, size, json }: CompareOptions) => {
      const found = await context.client().compare(listing, {
        before: parametersIn(before),
        after: parametersIn(after),
        size,
      });
      await context.print(json === true ? toJson(found) : comparisonText(found));
    });
}

function parametersIn(text: string): Readonly<Record<string, readonly string[]>> {
  const sent = new URLSearchParams(text.replace(/^\?/, "").replaceAll("+", "%2B"));
  return Object.fromEntries([...sent.keys()].map((name) => [name, sent.getAll(name)]));
}

function sizeIn(text: string): number {
  if (/^[1-9]\d{0,2}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("It is a number of records, 1 to 999.");
}

function comparisonText({ before, after, removed, added }: RecordsComparison): string {
  return [
    `Before: ${before.sentence}`,
    `  ${countText(before)}`,
    `After: ${after.sentence}`,
    `  ${countText(after)}`,
    "",
    differenceText("removed", removed),
    differenceText("added", added),
    "",
  ].join("\n");
}

function differenceText(what: string, { records, ...count }: ComparedAnswer): string {
  const [first] = records;
  if (first === undefined) return `No record ${what}.`;
  const names = Object.keys(first);
  const rows = records.map((record) => names.map((name) => String(record[name] ?? "")));
  const table = drawTable(
    names.map((heading) => ({ heading })),
    rows,
  );
  const rest = count.total === records.length ? "" : `, of which ${records.length} are shown`;
  return `${countText(count)} ${what}${rest}:\n\n${table}`;
}

function countText({ total, totalExact }: TotalAnswer): string {
  if (total === null) return "not counted";
  return `${totalExact ? "" : "more than "}${total} ${total === 1 ? "record" : "records"}`;
}
