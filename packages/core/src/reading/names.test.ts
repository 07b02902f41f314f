import { expect, test } from "@jest/globals";
import { namesFile } from "../../../../scripts/names.mjs";
import { CLDR_VERSION, NAMES } from "./names.generated.js";

test("the table of names is what its script makes of the CLDR that it names", () => {
  const file = namesFile();
  const table = /export const NAMES = (.*) as const;/.exec(file)?.[1] ?? "";
  const names = JSON.parse(table) as Record<string, unknown>;
  expect(Object.keys(names)).toEqual(Object.keys(NAMES));
  // Another Node may have other data, of which the table is independent.
  if (process.versions.cldr === CLDR_VERSION) expect(names).toEqual(NAMES);
});
