import type { MigrationInterface, QueryRunner } from "typeorm";

type Json = Record<string, unknown>;

/** Names of a declaration, and what they were renamed to. */
const KEYS: Readonly<Record<string, string>> = {
  fixed: "fixedFilter",
  freshness: "cacheFor",
  origins: "allowedOrigins",
  permits: "allow",
  unknown: "unknownParameters",
};

const POLICIES: Readonly<Record<string, string>> = { leave: "exclude", keep: "include" };

/** Writes the names and words that listings, keys and windows have now. */
export class PlainWords1764900000000 implements MigrationInterface {
  readonly name = "PlainWords1764900000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const [table, key] of [
      ["listings", ["id"]],
      ["listing_versions", ["name", "version"]],
    ] as const) {
      const rows = (await runner.query(
        `SELECT ${key.join(", ")}, declaration FROM ${table}`,
      )) as (Json & { readonly declaration: string | Json })[];
      const where = key.map((column) => `${column} = ?`).join(" AND ");
      for (const { declaration, ...keys } of rows) {
        const old =
          typeof declaration === "string" ? (JSON.parse(declaration) as Json) : declaration;
        await runner.query(`UPDATE ${table} SET declaration = ? WHERE ${where}`, [
          JSON.stringify(withFiscal(renamed(old))),
          ...key.map((column) => keys[column]),
        ]);
      }
    }
    for (const [table, column] of [
      ["named_windows", "`window`"],
      ["ladders", "rungs"],
      ["ladders", "calendar"],
    ] as const) {
      const rows = (await runner.query(
        `SELECT name, CAST(${column} AS CHAR) AS text FROM ${table}`,
      )) as { readonly name: string; readonly text: string }[];
      for (const { name, text } of rows) {
        await runner.query(`UPDATE ${table} SET ${column} = ? WHERE name = ?`, [
          withFiscalUnits(text),
          name,
        ]);
      }
    }
    await runner.query("UPDATE access_keys SET role = 'author' WHERE role = 'maker'");
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}

/** Keys of what people read, in which nothing is a window. */
const PROSE = new Set(["title", "label", "labels", "description", "describeFixedFilter"]);

/** Units are written in windows, which stand in many places of a declaration. */
function withFiscal(value: unknown): unknown {
  if (typeof value === "string") return withFiscalUnits(value);
  if (Array.isArray(value)) return value.map(withFiscal);
  if (!isObject(value)) return value;
  const changed = Object.entries(withKeys(value, { finYearStart: "fiscalYearStart" }));
  return Object.fromEntries(
    changed.map(([key, each]) => [key, PROSE.has(key) ? each : withFiscal(each)]),
  );
}

function withFiscalUnits(text: string): string {
  return text
    .replace(/\bfin(year|quarter)\b/g, "fiscal$1")
    .replace(/\bfinancial-year\b/g, "fiscal-year")
    .replaceAll('"finYearStart"', '"fiscalYearStart"');
}

function renamed(old: Json): Json {
  const named = Object.fromEntries(
    Object.entries(old).map(([key, value]) => [KEYS[key] ?? key, value]),
  );
  return {
    ...named,
    ...(isObject(named.allow) ? { allow: withRoles(named.allow) } : {}),
    ...(named.unknownParameters === "refuse" ? { unknownParameters: "reject" } : {}),
    ...(named.reversed === "refuse" ? { reversed: "reject" } : {}),
    ...(isObject(named.order) ? { order: withKeys(named.order, { ties: "tieBreakers" }) } : {}),
    ...(isObject(named.page) ? { page: withKeys(named.page, { most: "max" }) } : {}),
    ...(isObject(named.choices) ? { choices: mapValues(named.choices, choicesOf) } : {}),
    ...(Array.isArray(named.parameters)
      ? {
          parameters: named.parameters.map((each: unknown) =>
            isObject(each) ? parameterOf(each) : each,
          ),
        }
      : {}),
  };
}

function withRoles(allow: Json): Json {
  return mapValues(allow, (role) => (role === "maker" ? "author" : role));
}

function choicesOf(offer: unknown): unknown {
  return isObject(offer) ? withKeys(offer, { late: "recent", barred: "disabled" }) : offer;
}

function parameterOf({ letterCase, ...parameter }: Json): Json {
  const { blanks, type } = parameter;
  return {
    ...parameter,
    ...(typeof blanks === "string" ? { blanks: POLICIES[blanks] ?? blanks } : {}),
    ...(type === "moment" ? { type: "datetime" } : {}),
    ...(letterCase === undefined ? {} : { caseSensitive: letterCase === "exact" }),
  };
}

function withKeys(of: Json, names: Readonly<Record<string, string>>): Json {
  return Object.fromEntries(Object.entries(of).map(([key, value]) => [names[key] ?? key, value]));
}

function mapValues(of: Json, change: (value: unknown) => unknown): Json {
  return Object.fromEntries(Object.entries(of).map(([key, value]) => [key, change(value)]));
}

function isObject(value: unknown): value is Json {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}
