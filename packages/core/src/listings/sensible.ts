import type { Catalogue, Column } from "../filters/index.js";
import { RESERVED_PARAMETERS, type ParameterDeclaration } from "./declaration.js";
import { nameFault } from "./names.js";

/** The column of dates that a listing speaks of where it names none: the only one that there is. */
export function onlyDate(columns: Catalogue): string | null {
  const [first, another] = [...columns.values()].filter(({ type }) => type === "date");
  return first === undefined || another !== undefined ? null : first.name;
}

/**
 * The parameters of a listing that declares none: `from` and `to` of its main date, and one for
 * every column shown, by its name, where that can name a parameter.
 */
export function sensibleParameters(
  mainDate: string,
  shown: readonly string[],
  columns: Catalogue,
): readonly ParameterDeclaration[] {
  const date = { type: "date", column: mainDate, pair: mainDate, blanks: "leave" } as const;
  const pair: readonly ParameterDeclaration[] = [
    { ...date, name: "from", comparison: "from" },
    { ...date, name: "to", comparison: "to" },
  ];
  const taken = new Set([...RESERVED_PARAMETERS, "from", "to"].map((name) => name.toLowerCase()));
  return [
    ...pair,
    ...shown.flatMap((name) => {
      const column = columns.get(name);
      const lower = name.toLowerCase();
      if (column === undefined || nameFault(name, "") !== null || taken.has(lower)) return [];
      taken.add(lower);
      return [parameterFor(column)];
    }),
  ];
}

function parameterFor({ name, type }: Column): ParameterDeclaration {
  const common = { name, column: name, blanks: "leave" } as const;
  switch (type) {
    case "date":
      return { ...common, type: "window", comparison: "on" };
    case "integer":
    case "decimal":
      return { ...common, type: "range", comparison: "within" };
    case "boolean":
      return { ...common, type: "boolean", comparison: "is" };
    case "text":
      return { ...common, type: "text", comparison: "contains" };
  }
}
