import { readFileSync } from "node:fs";
import { compareWithExpected, type Expectation } from "@orisma/client";
import { InvalidArgumentError, type Command } from "commander";
import { collect, examples, toJson, type Context } from "../context/context.js";
import { UsageError } from "../context/failure.js";
import { readParameters, withPhrases } from "../input/parameters.js";

interface ExpectOptions {
  readonly id: readonly string[];
  readonly ids?: string;
  readonly count?: number;
  readonly json?: boolean;
}

/** The records differ from what was expected: exit code 1. */
class NotAsExpected extends Error {}

/** Records named one by one at most. */
const MAX_NAMED = 50;

/** `orisma listings expect`: for the tests of whoever declares a listing. */
export function addExpect(listing: Command, context: Context): void {
  listing
    .command("expect")
    .description("Compare what a request gives with the records, or the number, that you expect")
    .argument("<listing>")
    .argument("[parameters...]", "--NAME VALUE for each parameter of the listing")
    .option("--id <id>", "a record that is expected; again for one more", collect, [])
    .option("--ids <file>", "a file with the id of an expected record a line")
    .option("--count <records>", "how many are expected", readCount)
    .option("--json", "print the result as JSON")
    .allowUnknownOption()
    .addHelpText(
      "after",
      examples(
        "orisma listings expect works-raised --from 2025-02 --to 2025-02 --count 46",
        "orisma listings expect works-raised --from 2025-02-28 --to 2025-02-28 --ids expected.txt",
      ),
    )
    .action(async (name: string, rest: string[], options: ExpectOptions) => {
      const wanted = wantedIds(options);
      if (wanted === null && options.count === undefined) {
        throw new UsageError("say what is expected: --id, --ids or --count");
      }
      const expected = { ids: wanted, count: options.count ?? null };
      const result = await withPhrases(readParameters(rest), (parameters) =>
        compareWithExpected(context.client(), name, parameters, expected),
      );
      await context.print(
        options.json === true ? toJson(result) : resultText(result, options.count),
      );
      if (!result.matches) throw new NotAsExpected("the records are not those that were expected");
    });
}

function readCount(text: string): number {
  if (/^\d{1,12}$/.test(text)) return Number(text);
  throw new InvalidArgumentError("A whole number is wanted.");
}

/** The ids that are expected; null where none are named, and an empty file expects none. */
function wantedIds({ id, ids }: ExpectOptions): readonly string[] | null {
  if (ids === undefined) return id.length === 0 ? null : id;
  let text: string;
  try {
    text = readFileSync(ids, "utf8");
  } catch {
    throw new UsageError(`${ids} cannot be read`);
  }
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== "");
  return [...id, ...lines];
}

function resultText(result: Expectation, count: number | undefined): string {
  const { matches, records, missing, unexpected } = result;
  if (matches) return `exact match: ${records} records\n`;
  const named = (word: string, ids: readonly string[] | null) => {
    if (ids === null || ids.length === 0) return [];
    const rest = ids.length - MAX_NAMED;
    return [
      `${word}: ${ids.length}`,
      ...ids.slice(0, MAX_NAMED).map((id) => `  ${id}`),
      ...(rest > 0 ? [`  and ${rest} more`] : []),
    ];
  };
  const lines = [
    ...(count === undefined || count === records ? [] : [`${records} records, not ${count}`]),
    ...named("missing", missing),
    ...named("unexpected", unexpected),
  ];
  return `${lines.join("\n")}\n`;
}
