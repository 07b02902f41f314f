import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";
import { orismaText } from "./process.js";

let running: TestService;
const outbox = mkdtempSync(join(tmpdir(), "orisma-cli-outbox-"));

beforeAll(async () => {
  running = await startTestService({ settings: { outbox } });
  await importWorks(running.client);
});
afterAll(async () => {
  await running.end();
  rmSync(outbox, { recursive: true, force: true });
});

const orisma = (...words: readonly string[]) => orismaText(words, { state: running.state });

test("records are delivered as a file, at once and at times, and the delivery is ended", async () => {
  const made = await orisma(
    ...["deliveries", "create", "works-raised", "from=2025-02", "to=2025-02"],
    ...["--for", "office", "--when", "month", "--at", "06:00", "--file", "works.csv"],
  );
  expect(made.text).toMatch(/^delivery 1 of works-raised, next \d{4}-\d\d-01 0[56]:00 UTC\n$/);
  expect((await orisma("deliveries", "run", "works-raised", "1")).text).toBe(
    "4 records delivered\n",
  );
  expect(readFileSync(join(outbox, "works.csv"), "utf8").split("\n")).toHaveLength(6);
  const listed = await orisma("deliveries", "list", "works-raised");
  expect(listed.text).toMatch(/1 +office +csv +month at 06:00 +works\.csv .* 4 records delivered/);
  expect((await orisma("deliveries", "runs", "works-raised", "1")).text).toContain("4 records");
  expect((await orisma("deliveries", "delete", "works-raised", "1")).text).toContain("deleted");
  expect(await running.client.deliveries("works-raised")).toEqual([]);
  const nowhere = await orisma(
    ...["deliveries", "create", "works-raised", "--for", "site", "--when", "records"],
    ...["--url", "http://127.0.0.1:1/"],
  );
  expect([nowhere.code, nowhere.text.includes("ORISMA_WEBHOOKS")]).toEqual([1, true]);
  const both = await orisma(
    ...["deliveries", "create", "works-raised", "--for", "x", "--when", "day"],
  );
  expect(both.code).toBe(2);
  expect(existsSync(join(outbox, ".csv"))).toBe(false);
});
