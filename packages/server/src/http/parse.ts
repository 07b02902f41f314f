import { fault, nearestName, type Fault } from "@orisma/core/internal";
import { z } from "zod";
import { MAX_FAULTS, problemOf } from "./problem.js";

/** Reads a value under a schema; throws a problem with every fault and its path. */
export function parse<Schema extends z.ZodType>(schema: Schema, value: unknown): z.output<Schema> {
  const read = schema.safeParse(value);
  if (read.success) return read.data;
  const { issues } = read.error;
  const count = issues.reduce((sum, each) => sum + ("keys" in each ? each.keys.length : 1), 0);
  const faults = issues
    .slice(0, MAX_FAULTS)
    .flatMap((issue) => shapeFaults(issue, schema, value))
    .slice(0, MAX_FAULTS);
  throw problemOf(faults, undefined, count);
}

function shapeFaults(
  issue: z.core.$ZodIssue,
  schema: z.core.$ZodType,
  document: unknown,
): readonly Fault[] {
  const { path, message } = issue;
  const place = (more: readonly PropertyKey[]) => ({
    path: [...path, ...more].map(String).join("."),
  });
  if (issue.code !== "unrecognized_keys") {
    const meant = issue.code === "invalid_value" ? nearestValue(issue, document) : null;
    const facts = meant === null ? { reason: message } : { reason: message, nearest: meant };
    return [fault("document.shape", facts, place([]))];
  }
  const known = keysAt(schema, path);
  return issue.keys.slice(0, MAX_FAULTS).map((key) => {
    const meant = nearestName(key, known);
    const reason = `“${key}” is not known here`;
    const facts = meant === null ? { reason } : { reason, nearest: meant };
    return fault("document.shape", facts, place([key]));
  });
}

/** The accepted value that is nearest to what a document has at the place of an issue. */
function nearestValue({ path, values }: z.core.$ZodIssueInvalidValue, document: unknown) {
  const found = path.reduce<unknown>(
    (value, key) => (value as Record<PropertyKey, unknown> | undefined)?.[key],
    document,
  );
  const known = values.filter((each) => typeof each === "string");
  return typeof found === "string" ? nearestName(found, known) : null;
}

/** The keys that a document may have at a path. */
function keysAt(schema: z.core.$ZodType, path: readonly PropertyKey[]): readonly string[] {
  let found: readonly z.core.$ZodType[] = withoutOptional(schema);
  for (const step of path) {
    found = found.flatMap((each) => {
      if (each instanceof z.ZodObject) {
        const next = (each.shape as Record<string, z.core.$ZodType>)[String(step)];
        return next === undefined ? [] : withoutOptional(next);
      }
      if (each instanceof z.ZodArray) return withoutOptional(each.element);
      return each instanceof z.ZodRecord ? withoutOptional(each.valueType) : [];
    });
  }
  return found.flatMap((each) => (each instanceof z.ZodObject ? Object.keys(each.shape) : []));
}

/** The alternatives that a schema accepts, without what only says that it may be missing. */
export function withoutOptional(schema: z.core.$ZodType | undefined): readonly z.core.$ZodType[] {
  if (schema === undefined) return [];
  if (
    schema instanceof z.ZodOptional ||
    schema instanceof z.ZodExactOptional ||
    schema instanceof z.ZodDefault ||
    schema instanceof z.ZodPrefault
  ) {
    return withoutOptional(schema.def.innerType);
  }
  if (schema instanceof z.ZodUnion) return schema.options.flatMap(withoutOptional);
  return [schema];
}
