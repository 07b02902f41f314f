import type { ListingDetails } from "@orisma/client";
import { MOMENT_PARAMETERS, takesDates, type ParameterDeclaration } from "@orisma/core/internal";

/**
 * A declaration file for TypeScript with the parameters and the records of listings, for a client of
 * that type: `new OrismaClient<Listings>(…)`.
 */
export function listingTypes(listings: readonly ListingDetails[]): string {
  const entries = listings.map((listing) =>
    lines(1, comment(listing.title), `${key(listing.name)}: {`, ...bodyOf(listing), "};"),
  );
  return [
    "// Made by `orisma listings types`; make it again when a listing changes.",
    "",
    "/** What each listing takes and gives: for `new OrismaClient<Listings>(…)`. */",
    "export interface Listings {",
    ...entries,
    "}",
    "",
  ].join("\n");
}

function bodyOf(listing: ListingDetails): readonly string[] {
  const { parameters, shown } = listing;
  return [
    "  parameters: {",
    ...parameters.flatMap(parameterLines),
    ...envelopeLines(listing),
    "  };",
    "  record: {",
    "    readonly id: string | number;",
    ...shown
      .filter(({ name }) => name !== "id")
      .flatMap((column) => {
        const label = listing.labels?.[column.name];
        const returned = label === undefined ? [] : [`    ${comment(label)}`];
        return [...returned, `    readonly ${key(column.name)}: ${valueType(column)} | null;`];
      }),
    "  };",
  ];
}

function parameterLines(declared: ParameterDeclaration): readonly string[] {
  const { name, required, default: fallback, label, description, comparison } = declared;
  const column = declared.column ?? "";
  const returned = [label, description].filter((each) => each !== undefined);
  const words = returned.length > 0 ? returned.join(". ") : `${column} ${comparison}`.trim();
  const fields = takesDates(declared) ? Object.values(declared.fields ?? {}) : [];
  const isOptional = required !== true || fallback !== undefined || fields.length > 0;
  return [
    `    ${comment(words)}`,
    `    readonly ${key(name)}${isOptional ? "?" : ""}: ${parameterType(declared)};`,
    ...fields.map((each) => `    readonly ${key(each)}?: string | number;`),
    ...(declared.type === "search"
      ? []
      : [`    readonly ${key(`${name}.blank`)}?: "exclude" | "include" | "only";`]),
  ];
}

function parameterType(declared: ParameterDeclaration): string {
  if (takesDates(declared)) return "string";
  const { type, values } = declared;
  const one = values === undefined ? "string" : values.map(text).join(" | ");
  switch (type) {
    case "integer":
    case "decimal":
      return "string | number";
    case "boolean":
      return "boolean | string";
    case "several":
      return `${one} | readonly (${one})[]`;
    case "oneOf":
      return one;
    case "range":
    case "text":
    case "search":
      return "string";
  }
}

function envelopeLines({ order, shown, filter, page, rows }: ListingDetails): readonly string[] {
  const orders = order.allowed.flatMap((name) => [name, `-${name}`]).map(text);
  const columns = shown.map(({ name }) => text(name)).join(" | ");
  return [
    `readonly order?: ${orders.join(" | ")} | readonly (${orders.join(" | ")})[];`,
    "readonly size?: string | number;",
    "readonly cursor?: string;",
    `readonly columns?: ${columns} | readonly (${columns})[];`,
    'readonly total?: "bounded" | "exact" | "none";',
    "readonly with?: string;",
    ...(page.numbered === true ? ["readonly page?: string | number;"] : []),
    ...(rows === undefined ? [] : ['readonly rows?: "records" | "values";']),
    ...(filter === undefined ? [] : ["readonly filter?: string;"]),
    ...MOMENT_PARAMETERS.map((name) => `readonly ${name}?: string;`),
  ].map((line) => `    ${line}`);
}

function valueType({ type }: ListingDetails["shown"][number]): string {
  switch (type) {
    case "boolean":
      return "boolean";
    case "integer":
    case "decimal":
      // Digits beyond those of a double come as text.
      return "number | string";
    case "text":
    case "date":
      return "string";
  }
}

function key(name: string): string {
  return /^[A-Za-z_$][\w$]*$/.test(name) ? name : text(name);
}

function text(value: string): string {
  return JSON.stringify(value);
}

function comment(words: string): string {
  return `/** ${words.replaceAll("*/", "* /").replace(/\s+/g, " ")} */`;
}

function lines(depth: number, ...each: readonly string[]): string {
  return each.map((line) => "  ".repeat(depth) + line).join("\n");
}
