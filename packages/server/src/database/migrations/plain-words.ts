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
        const old = parsed(declaration) as Json;
        await runner.query(`UPDATE ${table} SET declaration = ? WHERE ${where}`, [
          JSON.stringify(renamed(old)),
          ...key.map((column) => keys[column]),
        ]);
      }
    }
    const windows = (await runner.query("SELECT name, `window` FROM named_windows")) as {
      readonly name: string;
      readonly window: string;
    }[];
    for (const { name, window } of windows) {
      await runner.query("UPDATE named_windows SET `window` = ? WHERE name = ?", [
        withFiscalUnits(window),
        name,
      ]);
    }
    const ladders = (await runner.query("SELECT name, rungs, calendar FROM ladders")) as {
      readonly name: string;
      readonly rungs: unknown;
      readonly calendar: unknown;
    }[];
    for (const { name, rungs, calendar } of ladders) {
      await runner.query("UPDATE ladders SET rungs = ?, calendar = ? WHERE name = ?", [
        JSON.stringify(rungsOf(parsed(rungs))),
        JSON.stringify(calendarOf(parsed(calendar))),
        name,
      ]);
    }
    await runner.query("UPDATE access_keys SET role = 'author' WHERE role = 'maker'");
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}

/** Keys of a parameter under which a window may stand. */
const WINDOWS = ["default", "example", "earliest", "latest"];

/** The units of a text that is a window; any other text, such as the name of a column, is left as it is. */
function withFiscalUnits(text: string): string {
  return text
    .replace(/\bfin(year|quarter)\b/g, "fiscal$1")
    .replace(/^financial-year$/, "fiscal-year");
}

/** The windows of a condition in CQL2: the second argument of `inWindow`. */
function withFiscalWindows(condition: string): string {
  return condition.replace(
    /(\binWindow\s*\([^,]*,\s*')([^']*)(')/gi,
    (_, before: string, window: string, after: string) => before + withFiscalUnits(window) + after,
  );
}

function withFiscal(value: unknown): unknown {
  if (typeof value === "string") return withFiscalUnits(value);
  return Array.isArray(value) ? value.map(withFiscal) : value;
}

/** The values of some keys changed, of those that there are. */
function changed(of: Json, keys: readonly string[], change: (value: unknown) => unknown): Json {
  const all = keys.filter((key) => Object.hasOwn(of, key));
  return { ...of, ...Object.fromEntries(all.map((key) => [key, change(of[key])])) };
}

function rungsOf(rungs: unknown): unknown {
  if (!Array.isArray(rungs)) return rungs;
  return rungs.map((rung: unknown) =>
    isObject(rung) ? changed(rung, ["window"], withFiscal) : withFiscal(rung),
  );
}

function calendarOf(calendar: unknown): unknown {
  return isObject(calendar) ? withKeys(calendar, { finYearStart: "fiscalYearStart" }) : calendar;
}

function renamed(old: Json): Json {
  const named = Object.fromEntries(
    Object.entries(old).map(([key, value]) => [KEYS[key] ?? key, value]),
  );
  return {
    ...named,
    ...(isObject(named.allow) ? { allow: withRoles(named.allow) } : {}),
    ...(typeof named.fixedFilter === "string"
      ? { fixedFilter: withFiscalWindows(named.fixedFilter) }
      : {}),
    ...(named.calendar === undefined ? {} : { calendar: calendarOf(named.calendar) }),
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
  const { blanks, type, limits } = parameter;
  return {
    ...changed(parameter, WINDOWS, withFiscal),
    ...(isObject(limits) ? { limits: changed(limits, WINDOWS, withFiscal) } : {}),
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

/** JSON as a driver gives it: a text, or read already. */
function parsed(value: unknown): unknown {
  return typeof value === "string" ? (JSON.parse(value) as unknown) : value;
}

function isObject(value: unknown): value is Json {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}
