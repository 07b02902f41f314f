import type { RecordValue, RecordVerdict, WhyAnswer } from "@orisma/core/internal";
import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";
import { readParameters, withPhrases } from "../input/parameters.js";
import { whyLines } from "./explain.js";

/** `orisma why`. */
export function addWhy(command: Command, context: Context): void {
  command
    .command("why")
    .description("Explain why a request finds no records, or why a record is in or out")
    .argument("<listing>")
    .argument("[parameters...]", "--NAME VALUE for each parameter of the listing")
    .option("--record <id>", "the record to check")
    .option("--json", "print the service's answer")
    .allowUnknownOption()
    .addHelpText(
      "after",
      examples(
        "orisma why works-raised --from 2031",
        "orisma why works-raised --from 2025-02 --record W-06",
      ),
    )
    .action(
      async (listing: string, rest: string[], options: { record?: string; json?: boolean }) => {
        const { record, json } = options;
        const answer = await withPhrases(readParameters(rest), (parameters) =>
          context.client().why(listing, parameters, record),
        );
        await context.print(json === true ? toJson(answer) : whyText(answer));
      },
    );
}

function whyText(answer: WhyAnswer): string {
  const { sentence, record } = answer;
  const returned = record === undefined ? whyLines(answer) : ["", ...verdictLines(record)];
  return [sentence, ...returned, ""].join("\n");
}

function verdictLines({ id, isIn, conditions }: RecordVerdict): readonly string[] {
  const valueText = ([column, value]: readonly [string, RecordValue]) =>
    `${column} is ${value === null || value === "" ? "blank" : String(value)}`;
  return [
    `${id} is ${isIn ? "in" : "out"}`,
    ...(conditions.length === 0 ? ["  no conditions"] : []),
    ...conditions.map(
      ({ condition, isMet, values }) =>
        `  ${isMet ? "lets it through" : "leaves it out"}: ${condition} (${Object.entries(values).map(valueText).join(", ")})`,
    ),
  ];
}
