import type { z } from "zod";
import type { ProblemName } from "./problems.js";
import type { Role } from "./roles.js";
import type { Sent, Shown } from "./schema.js";

/** A call by its method and its path, with `{name}` for each parameter of the path. */
export type CallName = `${"GET" | "POST" | "PUT" | "PATCH" | "DELETE"} /${string}`;

/** A body that is the content of a file. */
export interface FileContent {
  /** The media types that are accepted. */
  readonly media: readonly string[];
  readonly description: string;
}

/** What there is to know of a call beside its name. */
export interface Call {
  readonly tag: string;
  readonly summary: string;
  /** The least role that may make it; null where no key is needed. */
  readonly role: Role | null;
  /** The parameters of the URL. */
  readonly query?: z.ZodObject;
  /** Whether the URL takes the parameters that the listing declares too. */
  readonly takesParameters?: true;
  /** Whether it is another path to the same. */
  readonly isAlias?: true;
  readonly body?: z.ZodType | FileContent;
  /** Bytes of a JSON body at most, as a number with its unit; 1mb by default. */
  readonly largestBody?: string;
  /** Whether the body may be YAML 1.2 too, of which JSON is a part. */
  readonly acceptsYaml?: true;
  /** Whether it changes nothing, although it is a POST for the size of what is sent. */
  readonly isRead?: true;
  /** What is returned; null for nothing. */
  readonly answer: z.ZodType | null;
  /** 200 by default, and 204 where nothing is returned. */
  readonly status?: 201;
  /** Other media types in which the same is returned. */
  readonly otherMedia?: readonly string[];
  /** Something that can be sent. */
  readonly example?: unknown;
  /** Problems beside those that every call of its shape has. */
  readonly problems?: readonly ProblemName[];
}

/** Calls by their names, with the types of their schemas. */
export function describeCalls<const Calls extends Readonly<Record<CallName, Call>>>(
  calls: Calls,
): Calls {
  return calls;
}

/** The parameters of a call's path. */
export type PathParameters<Name extends string> = Name extends `${string}{${infer P}}${infer Rest}`
  ? { readonly [K in P]: string } & PathParameters<Rest>
  : unknown;

/** What a client sends as the body of a call. */
export type SentBody<C extends Call> = C["body"] extends z.ZodType ? Sent<C["body"]> : undefined;

/** The body of a call as the service has read it. */
export type ReadBody<C extends Call> = C["body"] extends z.ZodType ? Shown<C["body"]> : undefined;

/** The parameters of a call's URL as the service has read them. */
export type ReadQuery<C extends Call> = C["query"] extends z.ZodObject
  ? Shown<C["query"]>
  : unknown;

/** The parameters of a call's URL as values, of which each may be missing. */
export type SentQuery<C extends Call> = C["query"] extends z.ZodObject
  ? { readonly [K in keyof Shown<C["query"]>]?: Shown<C["query"]>[K] | undefined }
  : unknown;

/** What a call returns. */
export type Answer<C extends Call> = C["answer"] extends z.ZodType ? Shown<C["answer"]> : undefined;
