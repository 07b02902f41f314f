import { z } from "zod";
import { describeCalls } from "./call.js";
import { ROLES } from "./roles.js";
import type { Shown } from "./schema.js";

export const KEY_DESCRIPTION = z
  .object({
    id: z.number(),
    name: z.string(),
    role: z.enum(ROLES),
    listings: z
      .array(z.string())
      .nullable()
      .describe("The listings that a reader may read; null for all."),
    createdAt: z.string(),
    expiresAt: z.string().nullable().describe("When it expires; null for a key that does not."),
    lastUsedAt: z.string().nullable().describe("When it was last shown; null until it is."),
  })
  .meta({ id: "KeyDescription", description: "A key as it is listed: never the key itself." });
export type KeyDescription = Shown<typeof KEY_DESCRIPTION>;

/** The name of a key or a person; listings name groups as `group:crew`. */
export const CALLER_NAME = z
  .string()
  .trim()
  .min(1, "a name of 1 to 64 characters")
  .max(64, "a name of 1 to 64 characters")
  .regex(/^(?!group:)/i, "a name that does not begin with group:");

/** A key that is to be created. */
export const NEW_KEY = z.strictObject({
  name: CALLER_NAME,
  role: z.enum(ROLES, `one of ${ROLES.join(", ")}`),
  listings: z
    .array(z.string())
    .min(1, "one listing at least")
    .describe("The listings that it may read, of a reader's key; all of them by default.")
    .exactOptional(),
  expiresAt: z.iso
    .datetime({ offset: true, error: "an instant such as 2027-01-01T00:00:00Z" })
    .describe("An instant in the future; never by default.")
    .exactOptional(),
});

/** Characters of a password. */
const PASSWORD = z
  .string()
  .min(10, "a password of 10 to 200 characters")
  .max(200, "a password of 10 to 200 characters");

export const PERSON_DESCRIPTION = z
  .object({
    name: z.string(),
    role: z.enum(ROLES),
    groups: z.array(z.string()),
    claims: z
      .record(z.string(), z.array(z.string()))
      .describe("What `caller('NAME')` stands for in the fixed filters of listings, by name."),
    listings: z
      .array(z.string())
      .nullable()
      .describe("The listings that a reader is kept to; null for all that others may read."),
    isOfIssuer: z
      .boolean()
      .describe("Whether they sign in at an issuer, which says their groups and claims."),
    createdAt: z.string(),
    lastSignInAt: z.string().nullable(),
  })
  .meta({ id: "PersonDescription", description: "Who signs in with a name and a password." });
export type PersonDescription = Shown<typeof PERSON_DESCRIPTION>;

const GROUP = z
  .string()
  .regex(/^[\p{L}\p{N}][\p{L}\p{N} _.-]{0,63}$/u, "letters, digits, spaces, _ . and -, 64 at most");

/** The values of a claim: a condition with it holds for each of them. */
const CLAIM = z
  .array(z.string().max(200, "a value of 200 characters at most"))
  .min(1, "one value at least")
  .max(100, "100 values at most");

/** What a person may. */
const PERSON_RIGHTS = {
  role: z.enum(ROLES, `one of ${ROLES.join(", ")}`),
  groups: z.array(GROUP).max(100).default([]),
  claims: z
    .record(z.string().regex(/^[\w.-]{1,64}$/, "letters, digits, _ . and -, 64 at most"), CLAIM)
    .refine((claims) => Object.keys(claims).length <= 50, "50 claims at most")
    .default({})
    .describe("What `caller('NAME')` stands for in the fixed filters of listings, by name."),
  listings: z
    .array(z.string())
    .min(1, "one listing at least")
    .describe("The listings that a reader is kept to; all that others may read by default.")
    .exactOptional(),
};

/** Thirty days. */
const MAX_OVERLAP_MINUTES = 43_200;

const SIGNED_IN = z.object({ role: z.enum(ROLES), csrf: z.string() });
const tag = "access";

/** Keys, sign-in codes and sessions. */
export const ACCESS_CALLS = describeCalls({
  "GET /v1/keys": {
    tag,
    summary: "The keys, without themselves",
    role: "owner",
    answer: z.object({ keys: z.array(KEY_DESCRIPTION) }),
  },
  "POST /v1/keys": {
    tag,
    summary: "Create a key, which is shown this once",
    role: "owner",
    body: NEW_KEY,
    answer: KEY_DESCRIPTION.extend({ key: z.string() }),
    status: 201,
  },
  "POST /v1/keys/{id}/rotate": {
    tag,
    summary: "Replace a key by another with the same rights, which is shown this once",
    role: "owner",
    body: z.strictObject({
      overlapMinutes: z
        .int("a whole number of minutes, 0 to 43200")
        .min(0, "a whole number of minutes, 0 to 43200")
        .max(MAX_OVERLAP_MINUTES, "a whole number of minutes, 0 to 43200")
        .describe("Minutes for which the key before is still valid; 0 by default.")
        .default(0),
    }),
    answer: KEY_DESCRIPTION.extend({ key: z.string() }),
    status: 201,
  },
  "DELETE /v1/keys/{id}": {
    tag,
    summary: "Revoke a key at once",
    role: "owner",
    answer: null,
  },
  "GET /v1/people": {
    tag,
    summary: "The people who sign in with a name and a password",
    role: "owner",
    answer: z.object({ people: z.array(PERSON_DESCRIPTION) }),
  },
  "POST /v1/people": {
    tag,
    summary: "Add a person; without a password one is made, and shown this once",
    role: "owner",
    body: z.strictObject({
      name: CALLER_NAME,
      ...PERSON_RIGHTS,
      password: PASSWORD.exactOptional(),
    }),
    answer: PERSON_DESCRIPTION.extend({
      password: z.string().nullable().describe("The one that was made; null where one was sent."),
    }),
    status: 201,
    problems: ["already-there"],
  },
  "PUT /v1/people/{name}": {
    tag,
    summary: "Change what a person may, from their next request on",
    role: "owner",
    body: z.strictObject(PERSON_RIGHTS),
    answer: PERSON_DESCRIPTION,
  },
  "POST /v1/people/{name}/password": {
    tag,
    summary: "Make a fresh password for a person, shown this once; their sessions end",
    role: "owner",
    answer: PERSON_DESCRIPTION.extend({ password: z.string() }),
  },
  "DELETE /v1/people/{name}": {
    tag,
    summary: "Delete a person, whose sessions end at once",
    role: "owner",
    answer: null,
  },
  "PUT /v1/session/password": {
    tag,
    summary: "Change one's own password; all of one's sessions end",
    role: "reader",
    body: z.strictObject({ current: z.string().max(200), password: PASSWORD }),
    answer: null,
  },
  "POST /v1/sign-in-codes": {
    tag,
    summary: "A one-time code with which a person signs in to the console",
    role: "owner",
    answer: z.object({ code: z.string(), expiresAt: z.iso.datetime() }),
    status: 201,
  },
  "GET /v1/session": {
    tag,
    summary: "What the key or the session may do",
    role: "reader",
    answer: SIGNED_IN.extend({
      csrf: z.string().nullable(),
      key: KEY_DESCRIPTION.nullable(),
      person: PERSON_DESCRIPTION.nullable().describe("Who signed in with a name and a password."),
    }),
  },
  "GET /v1/sign-in": {
    tag,
    summary: "How people can sign in beside codes, keys and passwords",
    role: null,
    answer: z.object({
      issuer: z
        .string()
        .nullable()
        .describe(
          "The host of an issuer of OpenID Connect; null for none. It begins at /sign-in/issuer.",
        ),
    }),
  },
  "POST /v1/session": {
    tag,
    summary: "Sign in with a one-time code, with a key, or with a name and a password",
    role: null,
    body: z.union(
      [
        z.strictObject({ code: z.string().max(200, "a code of 16 characters, or a key") }),
        z.strictObject({ name: z.string().max(200), password: z.string().max(200) }),
      ],
      "a code or a key as code, or a name and a password",
    ),
    answer: SIGNED_IN,
    status: 201,
    problems: ["not-allowed"],
  },
  "DELETE /v1/session": { tag, summary: "Sign out", role: null, answer: null },
});
