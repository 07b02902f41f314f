import { execFile } from "node:child_process";
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { DEMO_SEED, loadDemo, worksCsv } from "@orisma/demo";
import { ROOT, startTestService, type TestService } from "../../test/service.js";

/** Every command of README and docs is run, as a shell reads it, on the demo data. */
const PAGES = [
  "README.md",
  ...readdirSync(join(ROOT, "docs")).flatMap((name) =>
    name.endsWith(".md") && name !== "bench.md" ? [`docs/${name}`] : [],
  ),
];
const COMMAND = /^ {4}npx (orisma .+)$/gm;
/** 25 November 2026, 09:30 UTC. */
const NOW = Date.UTC(2026, 10, 25, 9, 30);

const scratch = mkdtempSync(join(tmpdir(), "orisma-docs-"));
const pages = PAGES.map((name) => ({ name, text: readFileSync(join(ROOT, name), "utf8") }));
let running: TestService;

beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  await loadDemo(running.service);
  writeFileSync(join(scratch, "repairs.csv"), worksCsv(DEMO_SEED, NOW / 86_400_000));
  const tolls = [
    { id: 1, paid: "2025-02-01", lock: { name: "Hollin Weir" }, toll: "1.234,56 €" },
    { id: 2, paid: "2025-02-14", lock: null, toll: "0,75 €" },
  ];
  const packed = gzipSync(JSON.stringify({ data: { tolls } }));
  writeFileSync(join(scratch, "tolls paid 2025.json.gz"), packed);
  const lines = ["1.234,56 €;1 200 cm;ja;(1,234.50)", "12,50 €;950 cm;nein;7.25"];
  writeFileSync(join(scratch, "tolls.csv"), `toll;length;paid;balance\n${lines.join("\n")}\n`);
  const closures = [
    { id: 1, closed: "1977" },
    { id: 2, closed: "March 1987" },
  ];
  writeFileSync(join(scratch, "old-closures.json"), JSON.stringify({ closures }));
  // The files that the pages show.
  writeFileSync(join(scratch, "repairs.yaml"), block("README.md", "yaml", "name: repairs"));
  writeFileSync(
    join(scratch, "works-by-date.json"),
    block("docs/declaring.md", "json", "works-by"),
  );
});
afterAll(async () => {
  rmSync(scratch, { recursive: true, force: true });
  await running.end();
});

function textOf(page: string): string {
  return pages.find(({ name }) => name === page)?.text ?? "";
}

function block(page: string, language: string, part: string): string {
  const all = [...textOf(page).matchAll(/```(\w+)\n([\s\S]*?)```/g)];
  const found = all.find(([, of, text]) => of === language && text?.includes(part) === true);
  if (found?.[2] === undefined) throw new Error(`${page} has no ${language} with ${part}`);
  return found[2];
}

function run(command: string): Promise<{ readonly code: number; readonly out: string }> {
  const words = command.replace(
    /^orisma/,
    `"${process.execPath}" "${ROOT}/packages/cli/bin/orisma.mjs"`,
  );
  const env = { PATH: process.env.PATH ?? "", ORISMA_STATE: running.state };
  return new Promise((resolve) => {
    execFile("bash", ["-c", words], { env, cwd: scratch }, (failure, out, err) =>
      resolve({ code: failure === null ? 0 : Number(failure.code), out: out + err }),
    );
  });
}

describe("the commands of the documentation", () => {
  test.each(PAGES)("%s: run, and do what they say", async (page) => {
    const commands = [...textOf(page).matchAll(COMMAND)].map(([, command = ""]) => command);
    for (const command of commands) {
      const { code, out } = await run(command);
      expect([command, code, code === 0 ? "" : out]).toEqual([command, 0, ""]);
      expect(out).not.toBe("");
    }
  });

  test("are many, and the answer that README shows is the one that comes", async () => {
    const all = pages.flatMap(({ text }) => [...text.matchAll(COMMAND)]);
    expect(all.length).toBeGreaterThan(35);
    const shown = JSON.parse(block("README.md", "json", '"records"')) as {
      readonly meta: Readonly<Record<string, unknown>>;
    };
    const sent = { from: "2025-02-01", to: "2025-02-28" };
    const { meta, records } = await running.client.records("repairs", sent);
    const { "…": _rest, ...rest } = shown.meta;
    expect(meta).toMatchObject(rest);
    expect(records[0]).toMatchObject({ id: "W-250228-1", reported_on: "2025-02-28" });
  });

  test("link to pages and pictures that there are", () => {
    for (const { name, text } of pages) {
      for (const [, target = ""] of text.matchAll(/\]\(((?!https?:)[^)#]+)\)/g)) {
        const folder = name.startsWith("docs/") ? "docs" : ".";
        expect(() => readFileSync(join(ROOT, folder, target))).not.toThrow();
      }
    }
  });
});
