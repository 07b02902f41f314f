import type { ParameterDeclaration } from "@orisma/core/internal";
import { commandOf } from "../docs/description.js";
import { valuesIn } from "../listing/value-line.js";

/** A call that is ready to run, as code. */
export interface ReadyCall {
  readonly title: "curl" | "fetch" | "typed client";
  readonly code: string;
}

/** What is sent of what is typed into the fields of parameters, by name. */
export function valuesSent(
  parameters: readonly Pick<ParameterDeclaration, "name" | "type">[],
  typed: Readonly<Record<string, string>>,
): readonly (readonly [string, readonly string[]])[] {
  return parameters.flatMap(({ name, type }): readonly (readonly [string, readonly string[]])[] => {
    const text = typed[name] ?? "";
    // One that takes several is repeated, each time with one of them.
    const values = type === "several" ? valuesIn(text) : [text];
    const given = values.filter((value) => value !== "");
    return given.length === 0 ? [] : [[name, given]];
  });
}

/** The calls that ask a listing of a service for what is typed into the fields of its parameters. */
export function callsOf(
  origin: string,
  name: string,
  parameters: readonly Pick<ParameterDeclaration, "name" | "type">[],
  typed: Readonly<Record<string, string>>,
): readonly ReadyCall[] {
  const sent = valuesSent(parameters, typed);
  const pairs = sent.flatMap(([key, values]) => values.map((value) => [key, value]));
  const query = pairs.length === 0 ? "" : `?${new URLSearchParams(pairs).toString()}`;
  const address = `${origin}/v1/listings/${encodeURIComponent(name)}/records${query}`;
  const fields = sent.map(([key, values]) => {
    const [only] = values;
    return `${JSON.stringify(key)}: ${JSON.stringify(values.length === 1 ? only : values)}`;
  });
  const given = fields.length === 0 ? [] : [`{ ${fields.join(", ")} }`];
  return [
    { title: "curl", code: commandOf("get", address, null) },
    {
      title: "fetch",
      code: `await fetch(${JSON.stringify(address)}, {\n  headers: { Authorization: \`Bearer \${key}\` },\n});`,
    },
    {
      title: "typed client",
      code: `const orisma = new OrismaClient<Listings>({ url: ${JSON.stringify(origin)}, key });\nawait orisma.records(${[JSON.stringify(name), ...given].join(", ")});`,
    },
  ];
}
