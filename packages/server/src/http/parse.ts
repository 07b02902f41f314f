import { fault, type Fault } from "@orisma/core";
import { z } from "zod";
import { problemOf } from "./problem.js";

/** Reads a value under a schema; throws a problem with every fault and its path. */
export function parse<Schema extends z.ZodType>(schema: Schema, value: unknown): z.output<Schema> {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  throw problemOf(read.error.issues.map(shapeFault));
}

function shapeFault({ path, message }: z.core.$ZodIssue): Fault {
  return fault("document.shape", { reason: message }, { path: path.map(String).join(".") });
}
