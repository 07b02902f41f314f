import { readFileSync, readdirSync } from "node:fs";
import { basename, join } from "node:path";
import { describe, expect, test } from "@jest/globals";
import { ESLint } from "eslint";
import ts from "typescript-eslint";
import { cyclesIn, noCycles } from "../scripts/cycles.mjs";
import { PACKAGES, SERVER_FOLDERS, layerRules } from "../scripts/layers.mjs";

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
    expect(found[0]).toContain(
      "calendar stands below reading, windows, filters, sql, query, listings",
    );
    expect(found[1]).toContain("the core imports nothing but its own files");
  });

  test("the same import from above is allowed", async () => {
    const found = await refusals("calendar-reaches-up.ts", "packages/core/src/listings/fixture.ts");
    expect(found).toHaveLength(1);
    expect(found[0]).toContain("nothing but its own files");
  });

  test.each(["core", "contract", "client", "cli", "console"])(
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

  test.each(SERVER_FOLDERS.slice(3))(
    "the server's folder %s imports nothing that stands above it, types included",
    async (folder) => {
      const found = await refusals(
        "files-reaches-up.ts",
        `packages/server/src/${folder}/fixture.ts`,
      );
      const isAbove = SERVER_FOLDERS.indexOf(folder) > SERVER_FOLDERS.indexOf("records");
      expect(found.filter((each) => each.includes("stands below"))).toHaveLength(
        isAbove || folder === "records" ? 0 : 1,
      );
      // Nor past the door of a folder below, nor a package that stands on the server.
      expect(found.filter((each) => each.includes("entered by its index.js"))).toHaveLength(1);
      expect(found.filter((each) => each.includes("may not import client"))).toHaveLength(1);
    },
  );

  test("every folder of the server has its place in the order", () => {
    const folders = readdirSync(join(ROOT, "packages/server/src"), { withFileTypes: true });
    const names = folders.filter((each) => each.isDirectory()).map(({ name }) => name);
    expect(names.toSorted()).toEqual(SERVER_FOLDERS.toSorted());
  });
});

describe("rings of imports", () => {
  const RING = join(ROOT, "lint/fixtures/ring");

  test("files that import one another are found, types and passed on names included", () => {
    const names = cyclesIn(RING).map((ring) => ring.map((file) => basename(file)));
    expect(names).toEqual([["one.ts", "three.ts", "two.ts"]]);
  });

  test("each import of a ring is refused, and one that leads into it is not", async () => {
    const eslint = new ESLint({
      cwd: ROOT,
      overrideConfigFile: true,
      ignore: false,
      overrideConfig: [
        {
          files: ["**/*.ts"],
          languageOptions: { parser: ts.parser },
          plugins: { orisma: { rules: { "no-cycles": noCycles } } },
          rules: { "orisma/no-cycles": ["error", RING] },
        },
      ],
    });
    const results = await eslint.lintFiles([join(RING, "*.ts")]);
    const found = results.map(({ filePath, messages }) => [basename(filePath), messages.length]);
    expect(Object.fromEntries(found)).toEqual({
      "one.ts": 1,
      "two.ts": 1,
      "three.ts": 1,
      "beside.ts": 0,
    });
    expect(results[0]?.messages.concat(results[1]?.messages ?? [])[0]?.message).toContain(
      "in a ring",
    );
  });

  test.each(Object.keys(PACKAGES))("%s has none", (name) => {
    expect(cyclesIn(join(ROOT, "packages", name, "src"))).toEqual([]);
  });
});
