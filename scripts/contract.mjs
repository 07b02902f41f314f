/**
 * `node scripts/contract.mjs`: makes packages/server/src/contract/shapes.generated.ts, the JSON
 * Schemas of what the service answers, from the types that the client has of them. With `--check`
 * it only says whether the file is what would be made now.
 */
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { format, resolveConfig } from "prettier";
import { createGenerator } from "ts-json-schema-generator";
import { ROOT } from "./bootstrap.mjs";

const FILE = join(ROOT, "packages/server/src/contract/shapes.generated.ts");
const SOURCE = join(ROOT, "packages/client/src/contract.ts");

/** Names that components of OpenAPI 3.1 may have. */
const NAME = /^[A-Za-z0-9._-]+$/;

const generator = createGenerator({
  path: SOURCE,
  tsconfig: join(ROOT, "tsconfig.json"),
  skipTypeCheck: true,
  expose: "export",
  topRef: true,
  jsDoc: "extended",
  // What an answer has may grow: a caller takes no offence at more.
  additionalProperties: true,
});
const { definitions } = generator.createSchema("*");

/** Types made of others have no name of their own: they stand where they are used. */
function inlined(value) {
  if (Array.isArray(value)) return value.map(inlined);
  if (typeof value !== "object" || value === null) return value;
  if (typeof value.$ref === "string") {
    const name = decodeURIComponent(value.$ref.replace("#/definitions/", ""));
    if (!NAME.test(name)) return inlined(definitions[name]);
    return { ...value, $ref: `#/components/schemas/${name}` };
  }
  return Object.fromEntries(
    Object.entries(value).map(([key, each]) => [key, key === "const" ? each : inlined(each)]),
  );
}

const shapes = Object.fromEntries(
  Object.entries(definitions)
    .filter(([name]) => NAME.test(name))
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, schema]) => [name, inlined(schema)]),
);
const text =
  "// Made by `node scripts/contract.mjs`; not to be changed by hand.\n\n" +
  "/** The JSON Schemas of what the service answers, by the names of their types. */\n" +
  `export const SHAPES: Readonly<Record<string, object>> = ${JSON.stringify(shapes)};\n`;
const made = await format(text, { ...(await resolveConfig(FILE)), parser: "typescript" });
if (process.argv.includes("--check")) {
  if (readFileSync(FILE, "utf8") !== made) {
    process.stderr.write("\nshapes.generated.ts is out of date: run node scripts/contract.mjs\n");
    process.exit(1);
  }
} else {
  writeFileSync(FILE, made);
}
