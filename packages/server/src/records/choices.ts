import {
  fault,
  decimalOf,
  inStoredUnits,
  patternOf,
  readBoolean,
  type Column,
  type ColumnUnits,
  type Filter,
  type GroupKey,
  type OfferedValue,
  type RecordValue,
  type SentParameters,
  type ChoicesAnswer,
} from "@orisma/core/internal";
import { problemOf, type Caller } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { derivedChoices } from "./derived-choices.js";
import type { RecentChoices } from "./recent.js";
import type { RunningRequest } from "./prepared.js";
import {
  countOfRequest,
  groups,
  and,
  numberOf,
  partsOf,
  shownColumn,
  pickParameters,
  valueOf,
  omitParameters,
  inSnapshot,
} from "./parts.js";
import type { Records } from "./service.js";

/** Values of an offer by default, and at most. */
const OFFERED = 100;
const MAX_OFFERED = 10_000;

/** The values of a column in the records that pass all other conditions. */
export async function choices(
  records: Records,
  listing: ServedListing,
  name: string,
  sent: SentParameters,
  caller: Caller,
  recent: RecentChoices,
): Promise<ChoicesAnswer> {
  const derived = listing.shown.includes(name) ? listing.derivedColumns.get(name) : undefined;
  if (derived?.kind === "derived") {
    const others = withoutColumn(name, listing, sent, ["search", "limit"]);
    const requested = { ...pickParameters(sent, ["search"]), limit: limitOf(sent) };
    const whole = await records.prepare(listing, others, caller);
    return inSnapshot(whole, (prepared) =>
      derivedChoices(prepared, name, derived.derived, requested),
    );
  }
  const column = shownColumn(name, listing);
  if (column.type === "date") {
    const facts = { name, type: "dates" };
    throw problemOf([fault("column.notChosen", facts, { path: "column", value: name })]);
  }
  const { search = "" } = pickParameters(sent, ["search"]);
  const limit = limitOf(sent);
  const others = withoutColumn(name, listing, sent, ["search", "limit"]);
  const whole = await records.prepare(listing, others, caller);
  return inSnapshot(whole, async (prepared) => {
    const { choices: offers = {}, units = {} } = listing.declaration;
    const offer = offers[name] ?? {};
    if (offer.values === false) {
      const none = await withoutValue(prepared, column, null);
      return { column: name, choices: [], groups: [], ...none, more: false };
    }
    const searched: Filter[] = search === "" ? [] : [searchOf(column, search, units)];
    const hidden = new Set((offer.hidden ?? []).map(String));
    // As many more as may have to be omitted, one that says whether there are others, and one of
    // those without a value, which the same reading of the table counts.
    const most = limit + hidden.size + 2;
    const counts = new Map<RecordValue, number>();
    let without: number | null = searched.length === 0 ? 0 : null;
    for (const part of await partsOf(prepared)) {
      const key: GroupKey = { kind: "values", column: name };
      const dated: Filter = { kind: "state", column: name, state: "dated" };
      const filter = searched.length === 0 ? part.filter : and(part.filter, [dated, ...searched]);
      const rows = await groups(part, { filter, keys: [key], measures: [], limit: most });
      const none = rows.find(([value]) => value === null);
      // They may be too few to be among the first.
      if (none === undefined && rows.length === most) without = null;
      else if (without !== null) without += Number(none?.[1] ?? 0);
      for (const row of rows) {
        if (row[0] === null) continue;
        const value = valueOf(row[0] ?? null, column, listing);
        counts.set(value, (counts.get(value) ?? 0) + Number(row[1]));
      }
    }
    const found = [...counts]
      .filter(([value]) => !hidden.has(String(value)))
      .sort((a, b) => b[1] - a[1] || (String(a[0]) < String(b[0]) ? -1 : 1));
    const disabled = new Set((offer.disabled ?? []).map(String));
    const count = (of: Filter) => countOfRequest(prepared, of);
    const remembered =
      offer.recent === false ? [] : recent.of(caller.id, listing.declaration.name, name);
    const used: { value: RecordValue; records: number }[] = [];
    for (const text of remembered) {
      if (hidden.has(text) || disabled.has(text)) continue;
      const value = column.type === "text" ? text : numberOf(text);
      const chosen = amongOf(column, [text], units);
      const records = counts.get(value) ?? (await count(chosen));
      // What the other conditions leave nothing of is no offer.
      if (records > 0) used.push({ value, records });
    }
    return {
      column: name,
      choices: found.slice(0, limit).map(([value, records]) => ({
        value,
        records,
        ...(disabled.has(String(value)) ? { disabled: true as const } : {}),
      })),
      groups: await Promise.all(
        Object.entries(offer.groups ?? {}).map(async ([group, values]) => ({
          name: group,
          values: values.map((each) => offeredValue(each, column)),
          records: await count(amongOf(column, values.map(String), units)),
        })),
      ),
      ...(used.length === 0 ? {} : { recent: used }),
      ...(await withoutValue(prepared, column, without)),
      more: found.length > limit,
    };
  });
}

/** How many values are offered; throws a problem for what is no such number. */
function limitOf(sent: SentParameters): number {
  const { limit: requested = "" } = pickParameters(sent, ["limit"]);
  const limit = requested === "" ? OFFERED : /^\d{1,6}$/.test(requested) ? Number(requested) : NaN;
  if (limit >= 1 && limit <= MAX_OFFERED) return limit;
  const place = { parameter: "limit", value: requested };
  throw problemOf([fault("parameter.value", { accepted: `1 to ${MAX_OFFERED}` }, place)]);
}

/** Blank and unreadable cells, of which it may be known already how many there are together. */
async function withoutValue(
  prepared: RunningRequest,
  { name: column, type }: Column,
  both: number | null,
): Promise<Pick<ChoicesAnswer, "blank" | "unreadable">> {
  const state = (of: "blank" | "unreadable") =>
    countOfRequest(prepared, { kind: "state", column, state: of });
  if (both === 0) return { blank: 0, unreadable: 0 };
  if (type === "text") return { blank: both ?? (await state("blank")), unreadable: 0 };
  const unreadable = await state("unreadable");
  return { blank: both === null ? await state("blank") : both - unreadable, unreadable };
}

/** A request without what it says of a column: an offer is not made smaller by what was chosen. */
function withoutColumn(
  column: string,
  { declaration }: ServedListing,
  sent: SentParameters,
  names: readonly string[],
): SentParameters {
  const others = new Map(omitParameters(sent, names));
  for (const parameter of declaration.parameters) {
    const isOf = "columns" in parameter ? false : parameter.column === column;
    if (!isOf) continue;
    others.delete(`${parameter.name}.blank`);
    others.set(parameter.name, [".."]);
  }
  return others;
}

/** A text is searched within; a number, a yes or no as what it is. */
function searchOf(column: Column, text: string, units: ColumnUnits): Filter {
  const { name, type } = column;
  if (type !== "text") return amongOf(column, [text], units);
  const pattern = patternOf("contains", text);
  return {
    kind: "text",
    column: name,
    side: "inside",
    pattern,
    caseSensitive: false,
    blanks: "exclude",
  };
}

/** One of some values, which are written as callers write them; what is none of its type has none. */
/** A value of a group as those of its column are. */
function offeredValue(value: OfferedValue, { type }: Column): RecordValue {
  const text = String(value);
  if (type === "text") return text;
  return type === "boolean" ? readBoolean(text) : numberOf(text);
}

function amongOf({ name, type }: Column, strings: readonly string[], units: ColumnUnits): Filter {
  const where = { column: name, blanks: "exclude" } as const;
  if (type === "boolean") {
    const sides = strings.flatMap((text) => {
      const value = readBoolean(text);
      return value === null ? [] : [value ? ("inside" as const) : ("outside" as const)];
    });
    return { kind: "any", of: sides.map((side) => ({ ...where, kind: "boolean", side })) };
  }
  const values = type === "text" ? strings : strings.flatMap((text) => decimalOf(text) ?? []);
  return inStoredUnits(
    { ...where, kind: "oneOf", side: "inside", values, caseSensitive: true },
    units,
  );
}
