/** What the page needs of the service's description (OpenAPI 3.1). */
export interface Description {
  readonly tags: readonly { readonly name: string }[];
  readonly paths: Readonly<Record<string, Readonly<Record<string, CallObject>>>>;
  readonly components: { readonly schemas: Readonly<Record<string, unknown>> };
}

interface CallObject {
  readonly operationId: string;
  readonly tags: readonly string[];
  readonly summary: string;
  readonly parameters?: readonly ParameterObject[];
  readonly requestBody?: { readonly content: Readonly<Record<string, ContentObject>> };
  readonly responses: Readonly<
    Record<string, { readonly content?: Readonly<Record<string, ContentObject>> }>
  >;
  readonly "x-role"?: string;
}

export interface ParameterObject {
  readonly name: string;
  readonly in: "path" | "query";
  readonly description: string;
  readonly required?: boolean;
  readonly example?: string;
  readonly explode?: boolean;
  readonly schema: {
    readonly type?: string;
    readonly enum?: readonly string[];
    readonly default?: unknown;
    readonly items?: { readonly enum?: readonly string[] };
  };
}

export interface ContentObject {
  readonly schema?: unknown;
  readonly example?: unknown;
}

/** One call, with where it is. */
export interface Call extends CallObject {
  readonly method: string;
  readonly path: string;
}

/** The calls of a description by their tags, in its order. */
export function callsByTag({ tags, paths }: Description): ReadonlyMap<string, readonly Call[]> {
  const all = Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, call]): Call => ({ ...call, method, path })),
  );
  return new Map(tags.map(({ name }) => [name, all.filter((call) => call.tags.includes(name))]));
}

/** The address of a call with what was filled in; parameters without a value are omitted. */
export function addressOf(call: Call, values: Readonly<Record<string, string>>): string {
  const query = new URLSearchParams();
  let { path } = call;
  for (const { name, in: place, schema, explode } of call.parameters ?? []) {
    const value = values[name] ?? "";
    if (place === "path") {
      path = path.replace(`{${name}}`, encodeURIComponent(value));
      continue;
    }
    if (value.trim() === "") continue;
    if (schema.type === "object") {
      for (const [each, text] of new URLSearchParams(value)) query.append(each, text);
    } else if (schema.type === "array" && explode === true) {
      for (const each of value.split(",")) query.append(name, each.trim());
    } else query.append(name, value);
  }
  const text = query.toString();
  return text === "" ? path : `${path}?${text}`;
}

/** The same as a command, with the key where it belongs. */
export function commandOf(method: string, url: string, body: string | null): string {
  const quoted = (text: string) => `'${text.replaceAll("'", "'\\''")}'`;
  return [
    `curl ${method === "get" ? "" : `-X ${method.toUpperCase()} `}${quoted(url)}`,
    `-H "Authorization: Bearer $ORISMA_KEY"`,
    ...(body === null ? [] : ["-H 'Content-Type: application/json'", `-d ${quoted(body)}`]),
  ].join(" \\\n  ");
}
