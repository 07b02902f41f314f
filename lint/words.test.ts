import { describe, expect, test } from "@jest/globals";
import { filesLookedAt, wordsIn } from "../scripts/words.mjs";

describe("the words", () => {
  test("that have no innocent use are found, each with what is written instead", () => {
    const text = [
      "/** The zone, UTC unless told. */",
      "const letterCase = 'newest first';",
      "// A key that lapses is put away.",
      "const expired = true;",
    ].join("\n");
    const found = wordsIn([{ name: "a.ts", text }]);
    expect(found.map((each) => each.split(":").slice(0, 2).join(":"))).toEqual([
      "a.ts:1",
      "a.ts:2",
      "a.ts:2",
      "a.ts:3",
      "a.ts:3",
    ]);
    expect(found[0]).toContain("write by default");
  });

  test("stand nowhere in the project", () => {
    const files = filesLookedAt();
    expect(files.length).toBeGreaterThan(400);
    expect(wordsIn(files)).toEqual([]);
  });
});
