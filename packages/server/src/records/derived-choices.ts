import {
  fault,
  filterOnDerived,
  numbersOfPart,
  type ChoicesAnswer,
  type DerivedColumn,
  type FixedCondition,
  type OneOfCondition,
} from "@orisma/core/internal";
import { problemOf } from "../http/index.js";
import { countOfRequest } from "./parts.js";
import type { RunningRequest } from "./prepared.js";

/**
 * The numbers of a derived column that is a part of a date, in their order, each with its records. They
 * are counted one by one, so that the index of the date serves; any other derived column can have more
 * numbers than could be offered.
 */
export async function derivedChoices(
  prepared: RunningRequest,
  name: string,
  derived: DerivedColumn,
  { search = "", limit }: { readonly search?: string; readonly limit: number },
): Promise<ChoicesAnswer> {
  const { listing, derivedAt: asOf } = prepared;
  const numbers = numbersOfPart(derived);
  if (numbers === null) {
    const facts = { name, type: "numbers that are worked out" };
    throw problemOf([fault("column.notChosen", facts, { path: "column", value: name })]);
  }
  const { zone, calendar, columns, declaration } = listing;
  const { groups = {}, values, ...offer } = declaration.choices?.[name] ?? {};
  const [hidden, disabled] = [offer.hidden, offer.disabled].map((each = []) => each.map(String));
  const context = { window: { asOf, zone, calendar }, columns, caller: null };
  const count = (condition: FixedCondition) =>
    countOfRequest(prepared, filterOnDerived(condition, declaration.derived ?? {}, context));
  const oneOf = (strings: readonly string[]): OneOfCondition => ({
    ...{ kind: "oneOf", column: name, side: "inside", caseSensitive: true, blanks: "exclude" },
    values: strings,
  });
  const offered = numbers.map(String).filter((text) => {
    const isSearched = search === "" || text === search.trim();
    return values !== false && isSearched && hidden?.includes(text) !== true;
  });
  const choices: ChoicesAnswer["choices"][number][] = [];
  for (const text of offered) {
    const records = await count(oneOf([text]));
    const isDisabled = disabled?.includes(text) === true ? { disabled: true as const } : {};
    if (records > 0) choices.push({ value: Number(text), records, ...isDisabled });
  }
  const named: ChoicesAnswer["groups"][number][] = [];
  for (const [group, members] of Object.entries(groups)) {
    const records = await count(oneOf(members.map(String)));
    named.push({ name: group, values: members.map(Number), records });
  }
  return {
    column: name,
    choices: choices.slice(0, limit),
    groups: named,
    blank: await count({ kind: "state", column: name, state: "blank" }),
    unreadable: await count({ kind: "state", column: name, state: "unreadable" }),
    more: choices.length > limit,
  };
}
