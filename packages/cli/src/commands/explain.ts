import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";
import { readParameters, withPhrases } from "../input/parameters.js";
import { drawTable } from "../output/table.js";
import {
  BLANKS_EXPLAINED,
  type CompoundExplained,
  type ConditionExplained,
  type Explanation,
  type PlanStep,
  type Statement,
  type ValueExplained,
  type WhyAnswer,
} from "@orisma/core/internal";

/** `orisma explain`. */
export function addExplain(command: Command, context: Context): void {
  command
    .command("explain")
    .description("Explain how a request is understood, what it filters and how it is run")
    .argument("<listing>")
    .argument("[parameters...]", "--NAME VALUE for each parameter of the listing")
    .option("--json", "print the service's answer")
    .allowUnknownOption()
    .addHelpText("after", examples("orisma explain works-raised --from 2025-02"))
    .action(async (listing: string, rest: string[], { json }: { json?: boolean }) => {
      const explanation = await withPhrases(readParameters(rest), (parameters) =>
        context.client().explain(listing, parameters),
      );
      await context.print(json === true ? toJson(explanation) : explanationText(explanation));
    });
}

/** An explanation for people to read. */
function explanationText(explanation: Explanation): string {
  const { sentence, notices, conditions, values, compound, names, statements, zone } = explanation;
  const { fixedFilter } = explanation;
  const isPlain =
    conditions.length + values.length === 0 && compound === null && fixedFilter === null;
  return [
    sentence,
    ...notices.map(({ message }) => `Note: ${message}`),
    ...(fixedFilter === null
      ? []
      : ["", `The listing's own filter “${fixedFilter.sent}”`, ...filterLines(fixedFilter)]),
    ...conditions.flatMap((each) => ["", ...conditionLines(each, zone)]),
    ...(compound === null ? [] : ["", `Filter “${compound.sent}”`, ...filterLines(compound)]),
    ...values.flatMap((each) => ["", ...valueLines(each)]),
    ...(isPlain ? ["", "no conditions."] : []),
    ...whyLines({ ...explanation, reasons: explanation.empty }),
    ...(explanation.tables === undefined
      ? []
      : [
          "",
          `${explanation.tables.opened} of ${explanation.tables.of} tables are opened; what follows is of the first`,
        ]),
    "",
    `Columns: ${Object.entries(names)
      .map(([physical, name]) => `${physical} is ${name}`)
      .join(", ")}`,
    "",
    statements.parts > 1 ? `Page, the first of ${statements.parts} parts` : "Page",
    ...statementLines(statements.page),
    ...planLines(explanation.plan.page),
    ...(statements.count === null
      ? []
      : ["", "Count", ...statementLines(statements.count), ...planLines(explanation.plan.count)]),
    "",
  ].join("\n");
}

/** Records after each condition, the nearest dates, and why there is no record. */
export function whyLines({
  narrowing,
  neighbours,
  reasons,
}: Pick<WhyAnswer, "narrowing" | "neighbours" | "reasons">): readonly string[] {
  const { records, steps, without } = narrowing;
  const returned = (count: number | null) => (count === null ? "not counted" : String(count));
  const right = true;
  const table = drawTable(
    [
      { heading: "condition", whole: true },
      { heading: "on its own", right },
      { heading: "remaining", right },
    ],
    [
      ["all records", "", returned(records)],
      ...steps.map(({ condition, isFixed, alone, inTurn }) => [
        isFixed === true ? `${condition} (the listing's own)` : condition,
        returned(alone),
        returned(inTurn),
      ]),
    ],
  );
  const remaining = Object.entries(without).map(
    ([column, { blank, unreadable }]) =>
      `${column}: ${returned(blank)} blank, ${returned(unreadable)} unreadable`,
  );
  const edges = neighbours.map(
    ({ column, edge, at, before, after }) =>
      `  ${column}, ${edge} at ${at}: last before it ${before ?? "none"}, first at or after it ${after ?? "none"}`,
  );
  return [
    "",
    ...(steps.length === 0
      ? [`${returned(records)} records`]
      : [table.trimEnd(), "", ...remaining]),
    ...(edges.length === 0 ? [] : ["", "Nearest dates", ...edges]),
    ...(reasons.length === 0
      ? []
      : ["", "Why there are no records", ...reasons.map((each) => `  ${each}`)]),
  ];
}

function planLines(steps: readonly PlanStep[]): readonly string[] {
  return steps.flatMap(({ words, records, advice }) => [
    `  The database ${words}, about ${records} ${records === 1 ? "record" : "records"}.`,
    ...(advice === undefined ? [] : [`  Note: ${advice}.`]),
  ]);
}

function filterLines({
  canonical,
  sentence,
  contradictions,
}: CompoundExplained): readonly string[] {
  return [
    `  keeps what has ${sentence}`,
    `  in CQL2: ${canonical}`,
    ...contradictions.map((each) => `  ${each}`),
  ];
}

function valueLines({ parameters, sentence }: ValueExplained): readonly string[] {
  const quoted = (strings: readonly string[]) => strings.map((text) => `“${text}”`).join(", ");
  return [
    `Condition ${sentence}`,
    ...parameters.map(({ parameter, sent: requested, values }) =>
      requested.join() === values.join()
        ? `  ${parameter}: sent ${quoted(requested)}`
        : `  ${parameter}: sent ${quoted(requested)}, applied as ${quoted(values)}`,
    ),
  ];
}

/** Intervals of a window that are shown one by one. */
const MAX_SHOWN = 10;

function conditionLines(
  { column, side, blanks, parameters, intervals, recurring }: ConditionExplained,
  zone: string,
): readonly string[] {
  const range = (start: string | null, end: string | null) =>
    [start === null ? null : `from ${start}`, end === null ? null : `before ${end}`]
      .filter((each) => each !== null)
      .join(", ") || "at any time";
  return [
    `Condition on ${column}`,
    ...parameters.map(
      ({ parameter, sent: requested, value, canonical }) =>
        `  ${parameter}: sent “${requested}”, applied as ${value}` +
        (canonical === value ? "" : ` (the window ${canonical})`),
    ),
    side === "inside" ? "  includes dates" : "  excludes dates",
    ...(intervals.length + recurring.length === 0 ? ["    none"] : []),
    ...intervals
      .slice(0, MAX_SHOWN)
      .flatMap((each) => [
        `    ${range(each.startLocal, each.endLocal)} in ${zone}`,
        `    ${range(each.start, each.end)} in UTC`,
      ]),
    ...(intervals.length > MAX_SHOWN
      ? [`    and ${intervals.length - MAX_SHOWN} more intervals`]
      : []),
    ...recurring.map(
      ({ parts, startLocal, endLocal }) =>
        `    ${parts.join("; ")} ${range(startLocal, endLocal)} in ${zone}`,
    ),
    `  ${BLANKS_EXPLAINED[blanks]}`,
  ];
}

function statementLines({ text, values }: Statement): readonly string[] {
  return [`  ${text}`, `  values: ${JSON.stringify(values)}`];
}
