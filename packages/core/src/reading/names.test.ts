import { expect, test } from "@jest/globals";
import { namesOfLanguage } from "../../../../scripts/names.mjs";
import { OTHER_NAMES } from "./all-names.generated.js";
import { CLDR_VERSION, OWN_NAMES } from "./names.generated.js";

const ALL = Object.entries({ ...OWN_NAMES, ...OTHER_NAMES });

test("the names are what their script makes of the CLDR, for all languages of which it has data", () => {
  expect(ALL.length).toBeGreaterThan(240);
  // Another Node may have other data, of which the files are independent.
  if (process.versions.cldr !== CLDR_VERSION) return;
  for (const [language, json] of ALL) {
    const { locales, ...names } = JSON.parse(json) as { readonly locales: readonly string[] };
    expect({ language, ...names }).toEqual({ language, ...namesOfLanguage(locales) });
  }
});
