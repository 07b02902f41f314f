import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { startTestService, type TestService } from "../../../test/service.js";

const RECORDS = 3_000;
const READERS = 6;
const TIMES = 12;

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  await running.client.createSource({ name: "tolls", key: "id" });
  const lines = Array.from(
    { length: RECORDS },
    (_, index) => `T-${index},0${1 + (index % 9)}/02/2025`,
  );
  await running.client.importFile("tolls", ["id,paid", ...lines].join("\n"));
  await setReadings("dd/MM/yyyy");
  await running.client.declareListing("tolls", { source: "tolls", mainDate: "paid" });
});
afterAll(() => running.end());

function setReadings(pattern: string) {
  return running.client.setReadings("tolls", {
    paid: { type: "date", reading: { kind: "date", encoding: "text", patterns: [pattern] } },
  });
}

/** 2 February in the one order, and in the other the second of each month from January to September. */
test("readers get the records from before or after, while a reading is set again and again", async () => {
  let isDone = false;
  const found = new Set<number | null>();
  const readers = Array.from({ length: READERS }, async () => {
    while (!isDone) {
      const { meta } = await running.client.records("tolls", { paid: "2025-02", total: "exact" });
      found.add(meta.total);
      const { buckets } = await running.client.timeline("tolls", { unit: "month" });
      expect(buckets.reduce((sum, { records }) => sum + records, 0)).toBe(RECORDS);
    }
  });
  for (let time = 0; time < TIMES; time++)
    await setReadings(time % 2 === 0 ? "MM/dd/yyyy" : "dd/MM/yyyy");
  isDone = true;
  await Promise.all(readers);
  expect([...found].toSorted()).toEqual([RECORDS, Math.ceil((RECORDS - 1) / 9)].toSorted());
});
