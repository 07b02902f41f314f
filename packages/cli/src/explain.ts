import type { ConditionExplained, Explanation, Statement } from "@orisma/core";

/** An explanation for people to read. */
export function explanationText(explanation: Explanation): string {
  const { sentence, notices, conditions, statements, zone } = explanation;
  return [
    sentence,
    ...notices.map(({ message }) => `Note: ${message}`),
    ...conditions.flatMap((each) => ["", ...conditionLines(each, zone)]),
    ...(conditions.length === 0 ? ["", "No condition was asked for."] : []),
    "",
    "Page",
    ...statementLines(statements.page),
    ...(statements.count === null ? [] : ["", "Count", ...statementLines(statements.count)]),
    "",
  ].join("\n");
}

function conditionLines(
  { column, side, blanks, parameters, interval }: ConditionExplained,
  zone: string,
): readonly string[] {
  const local = `${interval.startLocal ?? ".."}  to before  ${interval.endLocal ?? ".."}`;
  const universal = `${interval.start ?? ".."}  to before  ${interval.end ?? ".."}`;
  return [
    `Condition on ${column}`,
    ...parameters.map(
      ({ parameter, asked, value, canonical }) =>
        `  ${parameter}: asked “${asked}”, took effect as ${value}, the window ${canonical}`,
    ),
    `  keeps dates ${side}`,
    `    ${local}  (${zone})`,
    `    ${universal}`,
    `  blanks: ${blanks}`,
  ];
}

function statementLines({ text, values }: Statement): readonly string[] {
  return [`  ${text}`, `  values: ${JSON.stringify(values)}`];
}
