import { PROBLEMS, PROBLEM_DOCUMENT, type FileContent, type ProblemName } from "@orisma/contract";
import { mayAs, type Caller } from "../http/index.js";
import {
  NAMED_SCHEMAS,
  schemaReturned,
  type DescribedCall,
  type QueryParameter,
  type Schema,
} from "./described.js";

/** Parameters of paths, by name. */
const PATH_PARAMETERS: Readonly<Record<string, string>> = {
  name: "Its name",
  id: "Its id",
  table: "The name of a table or view",
  number: "The number of an import",
  version: "The number of a version",
  column: "The name of a column",
};

/**
 * The description of some calls for a caller: those that they may make.
 *
 * @see OpenAPI Specification 3.1.1
 */
export function openApiDocument(all: readonly DescribedCall[], caller: Caller): object {
  const operations = all.filter(({ role }) => role === null || mayAs(role, caller));
  const paths: Record<string, Record<string, object>> = {};
  for (const operation of operations) {
    (paths[operation.path] ??= {})[operation.method] = operationObject(operation);
  }
  const tags = [...new Set(operations.map(({ tag }) => tag))];
  return {
    openapi: "3.1.1",
    info: {
      title: "Orisma",
      version: "1",
      description:
        "Date windows on record listings. Failures are problem documents (RFC 9457); their codes are explained at /problems.",
    },
    servers: [{ url: "/" }],
    security: [{ key: [] }],
    tags: tags.map((name) => ({ name })),
    paths,
    components: {
      securitySchemes: { key: { type: "http", scheme: "bearer" } },
      schemas: reached(paths),
      responses: Object.fromEntries(
        Object.entries(PROBLEMS).map(([name, { status, title }]) => [
          name,
          problemResponse(name, status, title),
        ]),
      ),
    },
  };
}

function problemResponse(name: string, status: number, title: string): object {
  const example = {
    type: `/problems#${name}`,
    title,
    status,
    detail: title,
    instance: "urn:uuid:00000000-0000-4000-8000-000000000000",
    faults: [],
  };
  const schema = { $ref: "#/components/schemas/ProblemDocument" };
  return { description: title, content: { "application/problem+json": { schema, example } } };
}

function operationObject(operation: DescribedCall): object {
  const { method, path, tag, summary, role, query, body, answer, otherMedia, status } = operation;
  const { returned } = operation.example ?? {};
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name = ""]): object => ({
    name,
    in: "path",
    required: true,
    description: PATH_PARAMETERS[name] ?? name,
    schema: { type: "string" },
  }));
  const parameters = [...inPath, ...query.map(parameterObject)];
  const content: Record<string, object> = {};
  if (answer !== null) {
    content["application/json"] = {
      schema: answer,
      ...(returned === undefined ? {} : { example: returned }),
    };
    for (const each of otherMedia) content[each] = {};
  }
  return {
    operationId: idOf(method, path),
    tags: [tag],
    summary,
    ...(parameters.length === 0 ? {} : { parameters }),
    ...(body === null ? {} : { requestBody: bodyObject(operation, body) }),
    responses: {
      [status]: {
        description: answer === null ? "Done" : summary,
        ...(answer === null ? {} : { content }),
      },
      ...problemsOf(operation),
    },
    ...(role === null ? { security: [] } : { "x-role": role }),
  };
}

/** `get /v1/listings/{name}/records` is `getListingsNameRecords`. */
function idOf(method: string, path: string): string {
  const words = path.replace(/^\/v1/, "").split(/[^A-Za-z0-9]+/);
  return method + words.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join("");
}

function parameterObject({
  name,
  description,
  schema,
  required,
  example,
  isJoined,
}: QueryParameter) {
  const isList = schema.type === "array";
  const isFree = schema.type === "object";
  return {
    name,
    in: "query",
    description,
    schema,
    ...(required === true ? { required } : {}),
    ...(example === undefined ? {} : { example }),
    ...(isList || isFree ? { style: "form", explode: isJoined !== true } : {}),
  };
}

function bodyObject(
  { acceptsYaml, example: found }: DescribedCall,
  body: NonNullable<DescribedCall["body"]>,
): object {
  if (isFile(body)) {
    const content = Object.fromEntries(body.media.map((each) => [each, {}]));
    return { required: true, description: body.description, content };
  }
  const example = found?.sent === undefined ? {} : { example: found.sent };
  const yaml = acceptsYaml ? { "application/yaml": { schema: body } } : {};
  return { required: true, content: { "application/json": { schema: body, ...example }, ...yaml } };
}

function isFile(body: Schema | FileContent): body is FileContent {
  return Array.isArray(body.media);
}

/** The problems that the shape of a call makes possible, and those that it names, by status. */
function problemsOf({ role, path, query, body, problems }: DescribedCall): object {
  const names: ProblemName[] = [
    ...(role === null ? [] : (["not-signed-in", "not-allowed"] as const)),
    ...(path.includes("{") ? (["not-found"] as const) : []),
    ...(query.length > 0 || body !== null ? (["invalid-value"] as const) : []),
    ...(body === null
      ? []
      : (["unreadable-request", "request-timeout", "too-large", "unsupported-media"] as const)),
    "too-many-requests",
    "internal-error",
    "unavailable",
    ...problems,
  ];
  return Object.fromEntries(
    [...new Set(names)].map((name) => [
      PROBLEMS[name].status,
      { $ref: `#/components/responses/${name}` },
    ]),
  );
}

/** The named schemas that are referred to, and those that they refer to. */
function reached(paths: unknown): Readonly<Record<string, Schema>> {
  const found = new Map<string, Schema>();
  const collect = (value: unknown): void => {
    if (Array.isArray(value)) {
      value.forEach(collect);
      return;
    }
    if (typeof value !== "object" || value === null) return;
    const { $ref } = value as { readonly $ref?: unknown };
    const name = typeof $ref === "string" ? $ref.replace("#/components/schemas/", "") : "";
    const schema = NAMED_SCHEMAS.get(name);
    if (schema !== undefined && !found.has(name)) {
      found.set(name, schema);
      collect(schema);
    }
    Object.values(value).forEach(collect);
  };
  collect(paths);
  collect(schemaReturned(PROBLEM_DOCUMENT));
  return Object.fromEntries([...found].sort(([a], [b]) => (a < b ? -1 : 1)));
}
