import { execFile } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import ts from "typescript";
import { ROOT, startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

let running: TestService;
/** Inside the project, so that the packages are found as in a user's own. */
const scratch = mkdtempSync(join(ROOT, "packages/cli/dist/types-"));

beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  await importWorks(client);
  await client.declareListing("works-values", {
    source: "works",
    mainDate: "raised",
    derived: { age: { kind: "days", from: "raised", to: "now" } },
    columns: ["order", "raised", "cost", "age"],
    labels: { age: "Days old */ for certain" },
    parameters: [
      { name: "raised", type: "window", column: "raised", comparison: "on", required: true },
      { name: "kind", type: "several", column: "note", comparison: "among", values: ["a", "b"] },
      { name: "least", type: "decimal", column: "cost", comparison: "atLeast" },
    ],
  });
});
afterAll(async () => {
  rmSync(scratch, { recursive: true, force: true });
  await running.end();
});

function types(...names: readonly string[]): Promise<string> {
  const env = { PATH: process.env.PATH ?? "", ORISMA_STATE: running.state };
  const bin = join(ROOT, "packages/cli/bin/orisma.mjs");
  return new Promise((resolve, reject) => {
    execFile(process.execPath, [bin, "listings", "types", ...names], { env }, (failure, out, err) =>
      failure === null ? resolve(out) : reject(new Error(err)),
    );
  });
}

/** What the compiler says of a program beside the types. */
function faultsOf(program: string, listings: string): readonly string[] {
  writeFileSync(join(scratch, "listings.d.ts"), listings);
  const file = join(scratch, "program.ts");
  writeFileSync(file, program);
  const compiled = ts.createProgram([file], {
    strict: true,
    noEmit: true,
    skipLibCheck: true,
    target: ts.ScriptTarget.ES2023,
    module: ts.ModuleKind.NodeNext,
    moduleResolution: ts.ModuleResolutionKind.NodeNext,
    types: [],
    customConditions: [],
  });
  return ts
    .getPreEmitDiagnostics(compiled)
    .map(({ messageText }) => ts.flattenDiagnosticMessageText(messageText, "\n"));
}

const PROGRAM = `
import { OrismaClient } from "@orisma/client";
import type { Listings } from "./listings.js";

const orisma = new OrismaClient<Listings>({ url: "http://127.0.0.1:4410", key: "k" });

export async function right(): Promise<void> {
  const { records, meta } = await orisma.records("works-raised", {
    from: "2025-02",
    "from.blank": "include",
    order: "-cost",
    size: 3,
  });
  const raised: string | null = records[0]!.raised;
  const total: number | null = meta.total;
  const page = await orisma.records("works-values", { raised: "month", kind: ["a"], least: 5 });
  const age: number | string | null = page.records[0]!.age;
  const one = await orisma.record("works-passed", "W-01");
  const passed: string | null = one.passed;
  await orisma.summary("works-raised", { from: "2025", by: "raised:month", measure: "sum:cost" });
  console.log(raised, total, age, passed);
}

export async function wrong(): Promise<void> {
  // @ts-expect-error no such listing
  await orisma.records("works-rased", {});
  // @ts-expect-error no such parameter
  await orisma.records("works-raised", { form: "2025-02" });
  // @ts-expect-error a value that may not be chosen
  await orisma.records("works-values", { raised: "month", kind: ["c"] });
  // @ts-expect-error what must be given
  await orisma.records("works-values", { least: 5 });
  // @ts-expect-error a column that it is not ordered by
  await orisma.records("works-raised", { order: "note" });
  // @ts-expect-error a column that is not shown
  (await orisma.records("works-passed")).records[0]!.cost;
}
`;

describe("orisma listings types", () => {
  test("types what listings take and give, which the compiler holds a program against", async () => {
    const source = await types();
    expect(source).toContain("/** Days old * / for certain */");
    const program = `declare const console: { log(...values: unknown[]): void };\n${PROGRAM}`;
    expect(faultsOf(program, source)).toEqual([]);
    // The same program without its expectations is refused at each of them.
    const bare = program.replaceAll("@ts-expect-error", "expected:");
    expect(faultsOf(bare, source)).toHaveLength(6);
  });

  test("types the listings that are named", async () => {
    const source = await types("works-raised");
    expect(source).toContain('"works-raised": {');
    expect(source).not.toContain("works-passed");
  });
});
