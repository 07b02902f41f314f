import { z } from "zod";

/** A database to be attached, and the account with which it is read. */
export const ATTACHED = z.strictObject({
  host: z.string({ error: "a host name or address" }).trim().min(1, "a host name or address"),
  port: z.int("a port").min(1, "a port").max(65_535, "a port").default(3_306),
  database: z
    .string({ error: "the name of a database" })
    .regex(/^[^\0/\\.]{1,64}$/, "the name of a database"),
  user: z.string({ error: "the name of an account" }).min(1, "the name of an account").max(128),
  password: z.string({ error: "the password of the account" }).max(1_000),
  /** Whether an account that can write is accepted all the same. */
  allowWriter: z.boolean({ error: "true or false" }).default(false),
});

export type AttachedSent = z.output<typeof ATTACHED>;
