import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "@jest/globals";
import { ESLint } from "eslint";
import ts from "typescript-eslint";
import { layerRules } from "../scripts/layers.mjs";

const ROOT = join(import.meta.dirname, "..");

/** The messages for a fixture if it stood at another place of the project. */
async function refusals(fixture: string, place: string): Promise<readonly string[]> {
  const eslint = new ESLint({
    cwd: ROOT,
    overrideConfigFile: true,
    overrideConfig: [
      { files: ["**/*.ts"], languageOptions: { parser: ts.parser } },
      ...layerRules(),
    ],
  });
  const code = readFileSync(join(ROOT, "lint/fixtures", fixture), "utf8");
  const results = await eslint.lintText(code, { filePath: join(ROOT, place) });
  return results.flatMap(({ messages }) => messages.map(({ message }) => message));
}

describe("the layers", () => {
  test("a floor of the core that reaches up, or out to the system, is refused", async () => {
    const found = await refusals("calendar-reaches-up.ts", "packages/core/src/calendar/fixture.ts");
    expect(found).toHaveLength(2);
    expect(found[0]).toContain("calendar stands below reading, windows, filters, sql, listings");
    expect(found[1]).toContain("the core imports nothing but its own files");
  });

  test("the same import from above is allowed", async () => {
    const found = await refusals("calendar-reaches-up.ts", "packages/core/src/listings/fixture.ts");
    expect(found).toHaveLength(1);
    expect(found[0]).toContain("nothing but its own files");
  });

  test.each(["core", "client", "cli", "console"])(
    "%s may not import the server, which may",
    async (name) => {
      expect(
        await refusals("core-imports-server.ts", `packages/${name}/src/fixture.ts`),
      ).toHaveLength(1);
      expect(await refusals("core-imports-server.ts", "packages/server/src/fixture.ts")).toEqual(
        [],
      );
    },
  );
});
