import { expect, test } from "@jest/globals";
import { nameFault, nameFromFile } from "./names.js";

test.each([
  ["works.csv", "works"],
  ["tolls paid 2025.json.gz", "tolls-paid-2025"],
  ["2025 costs (new).xlsx", "costs-new"],
  ["Straßen.csv", "Stra-en"],
  ["123.csv", "source"],
  ["works", "works"],
  [`${"w".repeat(100)}.csv`, "w".repeat(56)],
])("a name from %s is %s, and is one", (file, name) => {
  expect(nameFromFile(file)).toBe(name);
  expect(nameFault(name, "name")).toBeNull();
});
