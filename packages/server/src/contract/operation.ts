import type { z } from "zod";
import type { ProblemName, Role } from "../http/index.js";

/** A JSON Schema (draft 2020-12), as OpenAPI 3.1 has it. */
export type Schema = Readonly<Record<string, unknown>>;

/** A parameter of an address. */
export interface QueryParameter {
  readonly name: string;
  readonly description: string;
  readonly schema: Schema;
  readonly required?: boolean;
  readonly example?: string;
  /** Whether one value holds a list with commas, instead of being sent repeated. */
  readonly isJoined?: boolean;
}

/** One call of the service. */
export interface Operation {
  readonly method: "get" | "post" | "put" | "patch" | "delete";
  /** With `{name}` for each parameter of the path. */
  readonly path: string;
  readonly tag: string;
  readonly summary: string;
  /** The least role; null where no key is needed. */
  readonly role: Role | null;
  readonly query?: readonly QueryParameter[];
  /** What is sent: a document, or something of other media types. */
  readonly body?: z.ZodType | { readonly media: readonly string[]; readonly what: string };
  /** What comes back; null for nothing. */
  readonly answer: Schema | null;
  /** 200 unless told, and 204 for nothing. */
  readonly status?: number;
  /** Other media types of the same. */
  readonly media?: readonly string[];
  /** Something that was really sent, and what really came back. */
  readonly example?: { readonly sent?: unknown; readonly came: unknown };
  /** Problems beyond those that its shape makes possible. */
  readonly problems?: readonly ProblemName[];
}

/** A shape of an answer by the name of its type. */
export function shape(name: string): Schema {
  return { $ref: `#/components/schemas/${name}` };
}

/** A list of them, under a name. */
export function listOf(name: string, of: string): Schema {
  return object({ [name]: { type: "array", items: shape(of) } });
}

export function object(properties: Readonly<Record<string, Schema>>): Schema {
  return { type: "object", properties, required: Object.keys(properties) };
}
