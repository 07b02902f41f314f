import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

/** Names and words of earlier versions: each is refused, with what is written now. */
let running: TestService;

beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

const COST = { name: "cost", type: "range", column: "cost", comparison: "within" } as const;
const RAISED = { name: "raised", column: "raised", comparison: "on" } as const;
const one = (parameter: object) => ({ parameters: [parameter] });

describe("a declaration of an earlier version", () => {
  test.each<[object, string, string]>([
    [{ fixed: "cost > 5" }, "fixed", "fixedFilter"],
    [{ freshness: { current: "PT1M" } }, "freshness", "cacheFor"],
    [{ origins: ["https://vale.example"] }, "origins", "allowedOrigins"],
    [{ permits: { zone: "reader" } }, "permits", "allow"],
    [{ unknown: "ignore" }, "unknown", "unknownParameters"],
    [{ unknownParameters: "refuse" }, "unknownParameters", "reject"],
    [{ reversed: "refuse" }, "reversed", "reject"],
    [{ order: { ties: ["cost"] } }, "order.ties", "tieBreakers"],
    [{ page: { most: 5 } }, "page.most", "max"],
    [{ calendar: { finYearStart: "04-06" } }, "calendar.finYearStart", "fiscalYearStart"],
    [{ choices: { cost: { barred: ["5"] } } }, "choices.cost.barred", "disabled"],
    [{ choices: { cost: { late: false } } }, "choices.cost.late", "recent"],
    [{ allow: { asOf: "maker" } }, "allow.asOf", "author"],
    [one({ ...COST, blanks: "leave" }), "parameters.0.blanks", "exclude"],
    [one({ ...COST, blanks: "keep" }), "parameters.0.blanks", "include"],
    [one({ ...COST, letterCase: "exact" }), "parameters.0.letterCase", "caseSensitive"],
    [one({ ...RAISED, type: "window", default: "finyear" }), "parameters.0.default", "fiscalyear"],
  ])("%j is refused", async (old, path, now) => {
    const sent = { source: "works", mainDate: "raised", ...old } as NewListing;
    const refused = await refusal(running.client.declareListing("old", sent));
    expect(refused?.status).toBe(422);
    expect(refused?.faults).toMatchObject([{ path, nearest: [now] }]);
  });

  test("names every type of parameter where the type is another", async () => {
    const sent = { source: "works", mainDate: "raised", ...one({ ...RAISED, type: "moment" }) };
    const refused = await refusal(running.client.declareListing("old", sent as NewListing));
    expect(refused?.faults).toMatchObject([
      { path: "parameters.0.type", message: expect.stringContaining("datetime") },
    ]);
  });
});
