import {
  CALLS,
  type Call,
  type CallName,
  type FileContent,
  type ProblemName,
  type Role,
} from "@orisma/contract";
import { z } from "zod";

/** A JSON Schema (draft 2020-12), as OpenAPI 3.1 has it. */
export type Schema = Readonly<Record<string, unknown>>;

/** A parameter of a URL. */
export interface QueryParameter {
  readonly name: string;
  readonly description: string;
  readonly schema: Schema;
  readonly required?: boolean;
  readonly example?: string;
  /** Whether one value holds a list with commas, instead of being sent repeated. */
  readonly isJoined?: boolean;
}

/** A call as the description has it: of the contract, or of one listing with what that declares. */
export interface DescribedCall {
  readonly method: string;
  readonly path: string;
  readonly tag: string;
  readonly summary: string;
  readonly role: Role | null;
  readonly query: readonly QueryParameter[];
  readonly body: Schema | FileContent | null;
  /** Whether a JSON body may be YAML too. */
  readonly acceptsYaml: boolean;
  readonly answer: Schema | null;
  readonly status: number;
  readonly otherMedia: readonly string[];
  /** Something that can be sent, and what is really returned for it. */
  readonly example?: { readonly sent?: unknown; readonly returned: unknown };
  readonly problems: readonly ProblemName[];
}

/** What a listing declares, where it is not said of which listing. */
const DECLARED_PARAMETERS: QueryParameter = {
  name: "parameters",
  description: "What the listing declares, and what every listing takes",
  schema: {
    type: "object",
    additionalProperties: { type: ["string", "array"], items: { type: "string" } },
  },
};

/** The schemas that have a name, of the answers that were described. */
export const NAMED_SCHEMAS = new Map<string, Schema>();

/** Every call of the contract, those of listings without what each declares. */
export function describedCalls(): readonly DescribedCall[] {
  return Object.entries(CALLS).map(([name, call]) => describedCall(name as CallName, call));
}

/** A call of the contract as the description has it. */
export function describedCall(name: CallName, call: Call): DescribedCall {
  const [method = "", path = ""] = name.split(" ");
  const { body, answer, query, otherMedia = [], problems = [] } = call;
  const { tag, summary, role } = call;
  return {
    method: method.toLowerCase(),
    path,
    tag,
    summary,
    role,
    query: [
      ...(call.takesParameters === true ? [DECLARED_PARAMETERS] : []),
      ...(query === undefined ? [] : queryParameters(query)),
    ],
    acceptsYaml: call.acceptsYaml === true,
    body: body === undefined ? null : "media" in body ? body : schemaSent(body),
    answer: answer === null ? null : schemaReturned(answer),
    status: answer === null ? 204 : (call.status ?? 200),
    otherMedia,
    problems,
  };
}

/** The parameters of a URL that a schema accepts. */
export function queryParameters(schema: z.ZodObject): readonly QueryParameter[] {
  const { properties = {}, required = [] } = z.toJSONSchema(schema, { io: "input" });
  return Object.entries(properties).map(([name, each]) => ({
    name,
    description: (typeof each === "object" ? each.description : undefined) ?? name,
    schema: each as Schema,
    required: required.includes(name),
  }));
}

/** What is accepted, whole where it stands. */
function schemaSent(schema: z.ZodType): Schema {
  const { $schema: _schema, ...found } = z.toJSONSchema(schema, { io: "input" });
  return found;
}

/** What is returned, its parts that have a name by that name. An answer may have more one day. */
export function schemaReturned(schema: z.ZodType): Schema {
  const wrapped = z.toJSONSchema(z.object({ answer: schema }), {
    unrepresentable: "any",
    override: ({ jsonSchema }) => {
      if (jsonSchema.additionalProperties === false) delete jsonSchema.additionalProperties;
      delete jsonSchema.id;
    },
  });
  const { $defs = {}, properties = {} } = withComponents(wrapped) as typeof wrapped;
  for (const [name, each] of Object.entries($defs)) NAMED_SCHEMAS.set(name, each);
  return properties.answer as Schema;
}

function withComponents(value: unknown): unknown {
  const text = JSON.stringify(value).replaceAll('"#/$defs/', '"#/components/schemas/');
  return JSON.parse(text) as unknown;
}
