import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { orismaText } from "./process.js";

let running: TestService;
const scratch = mkdtempSync(join(tmpdir(), "orisma-edits-"));
const FILE = "work,raised,status\nW-1,2025-02-10,open\nW-2,2025-02-11,open\nW-3,2025-02-12,done\n";

beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  const columns = { raised: { type: "date", reading } } as const;
  await client.createSource({ name: "works", key: "work", columns });
  await client.importFile("works", FILE);
  await client.declareListing("works", {
    source: "works",
    fixedFilter: "status <> 'gone'",
    parameters: [{ name: "status", column: "status", type: "several", comparison: "among" }],
    editable: ["status", "raised"],
    actions: { finish: { set: { status: "done" } }, drop: { set: { status: "gone" } } },
  });
});
afterAll(async () => {
  rmSync(scratch, { recursive: true, force: true });
  await running.end();
});

const orisma = (...words: readonly string[]) =>
  orismaText(words, { state: running.state, cwd: scratch });

test("a record is edited, its history shown, and the edit taken back", async () => {
  const edited = await orisma("edit", "works", "W-1", "status=held", "raised=2025-03-01");
  expect(edited).toEqual({
    code: 0,
    text: "edit 1 of W-1:\n  status: open → held\n  raised: 2025-02-10 → 2025-03-01\n",
  });
  expect((await orisma("edit", "works", "W-1", "status=held")).text).toContain("was so already");
  const history = await orisma("edits", "list", "works", "W-1");
  expect(history.text).toMatch(
    /1 .*command line of this machine +edit +1 +W-1 status: open → held/,
  );
  const undone = await orisma("edits", "undo", "works", "1");
  expect(undone).toEqual({ code: 0, text: "edit 1 was taken back: 1 record changed\n" });
  const { record } = await running.client.recordToEdit("works", "W-1");
  expect(record).toMatchObject({ status: "open", raised: "2025-02-10" });
  const emptied = await orisma("edit", "works", "W-1", "raised=");
  expect(emptied.text).toContain("raised: 2025-02-10 → (blank)");
  await orisma("edit", "works", "W-1", "raised=2025-02-10");
  const wrong = await orisma("edit", "works", "W-1", "raised=soon");
  expect(wrong.code).toBe(2);
  expect(wrong.text).toContain("soon");
});

test("an action is counted first, and done with --yes or for records that are named", async () => {
  const counted = await orisma("act", "works", "finish", "status=open");
  expect(counted.text).toBe(
    "finish would change 2 of 2 records; nothing was changed: --yes does it\n",
  );
  expect((await running.client.records("works", { status: "open" })).records).toHaveLength(2);
  const done = await orisma("act", "works", "finish", "status=open", "--yes");
  expect(done.text).toMatch(
    /^edit \d+: finish changed 2 of 2 records\n2 records left the listing by it\n$/,
  );
  const one = await orisma("act", "works", "drop", "--id", "W-3", "--json");
  expect(JSON.parse(one.text)).toMatchObject({ records: 1, changed: 1, left: 1 });
  expect((await orisma("act", "works", "drop", "--id", "W-3")).code).not.toBe(0);
  expect((await orisma("act", "works", "drop", "status=open", "--id", "W-1")).code).toBe(2);
});

test("an import does with edits what it is told, or the source says", async () => {
  const file = join(scratch, "works.csv");
  writeFileSync(file, FILE.replace("02-11", "02-21"));
  const refused = await orisma("import", file, "--name", "works", "--replace");
  expect(refused.code).toBe(1);
  expect(refused.text).toContain("overwrite 3 edits: status of W-1");
  expect((await orisma("sources", "edits", "works", "preserve")).text).toContain("again");
  expect((await orisma("sources", "edits", "works", "keep")).code).toBe(2);
  const kept = await orisma("import", file, "--name", "works", "--replace");
  expect(kept.text).toContain("3 edited cells made again");
  const lost = await orisma("sources", "revert", "works", "--edits", "overwrite");
  expect(lost.code).toBe(0);
  const taken = await orisma(
    ...["import", file, "--name", "works", "--replace", "--again", "--edits", "overwrite"],
  );
  expect(taken.text).toContain("3 edited cells overwritten by the file");
});
