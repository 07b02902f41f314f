import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing, type QueryParameters } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { SMALL, SMALL_CSV } from "../../../test/works.js";

/** Saturday 15 February 2025, 12:00:00 in London. */
const NOW = Date.UTC(2025, 1, 15, 12);

const LISTING: NewListing = {
  source: "works",
  zone: "Europe/London",
  mainDate: "passed",
  order: { allowed: ["raised", "passed"], default: "order", tieBreakers: [] },
  parameters: [
    { name: "raised", type: "window", column: "raised", comparison: "on" },
    { name: "passed", type: "window", column: "passed", comparison: "on" },
  ],
};

let running: TestService;
let reader: OrismaClient;

beforeAll(async () => {
  running = await startTestService({ now: () => NOW });
  const { client } = running;
  await client.createSource(SMALL);
  await client.importFile("works", SMALL_CSV);
  const order = { allowed: ["order"], default: "order" };
  await client.declareListing("works", { ...LISTING, order });
  await client.declareListing("open", {
    ...LISTING,
    order,
    allow: { asOf: "reader", zone: "reader" },
  });
  await client.declareListing("shut", { ...LISTING, order, allow: { zone: "nobody" } });
  await client.declareListing("mine", {
    ...LISTING,
    order,
    fixedFilter: "CASEI(note) LIKE CASEI('%midnight') AND note <> caller()",
  });
  const { key } = await client.createKey({ name: "next midnight", role: "reader" });
  reader = new OrismaClient({ url: running.service.url, key });
});
afterAll(() => running.end());

async function orders(
  client: OrismaClient,
  listing: string,
  parameters: QueryParameters,
): Promise<string> {
  const { records } = await client.records(listing, parameters);
  return records.map(({ id }) => String(id).slice(2)).join(" ");
}

describe("another instant and another zone", () => {
  test("the same window gives two right answers on two days", async () => {
    const requested = { raised: "month-1" };
    expect(await orders(running.client, "works", requested)).toBe("01");
    const march = { ...requested, asOf: "2025-03-20T10:00:00+00:00" };
    expect(await orders(running.client, "works", march)).toBe("02 03 04 05");
    expect(await orders(running.client, "works", { ...requested, asOf: "2025-04-01" })).toBe("06");
  });

  test("a day begins in the zone that is requested, and the answer says so", async () => {
    const requested = { passed: "2025-02" };
    expect(await orders(running.client, "works", requested)).toBe("02 03 04 05 09");
    // At half past five in the morning there the last moment of January is one of February.
    const kolkata = { ...requested, zone: "Asia/Kolkata" };
    expect(await orders(running.client, "works", kolkata)).toBe("01 02 03 04 09");
    const { meta } = await running.client.records("works", kolkata);
    expect(meta.sentence).toContain("Asia/Kolkata");
    expect(meta.windows[0]).toMatchObject({ start: "2025-01-31T18:30:00Z" });
    const { zone, buckets } = await running.client.timeline("works", {
      ...kolkata,
      unit: "month",
    });
    expect([zone, buckets[0]?.start]).toEqual(["Asia/Kolkata", "2025-01-31T18:30:00Z"]);
    const explained = await running.client.explain("works", kolkata);
    expect(explained.zone).toBe("Asia/Kolkata");
  });

  test("a day without an offset begins in the zone that is requested", async () => {
    const requested = { passed: "yesterday", zone: "Pacific/Apia" };
    const { meta } = await running.client.records("works", { ...requested, asOf: "2025-02-02" });
    expect(meta.windows[0]).toMatchObject({ startLocal: "2025-02-01T00:00:00" });
  });

  test("the next page is of the same instant and zone", async () => {
    const requested = { passed: "month-1", asOf: "2025-03-20", zone: "Asia/Kolkata", size: "2" };
    const first = await running.client.records("works", requested);
    const second = await running.client.follow(first.links.next ?? "");
    const both = [...first.records, ...second.records].map(({ id }) => String(id).slice(2));
    expect(both.join(" ")).toBe("01 02 03 04");
    expect(second.meta.windows).toEqual(first.meta.windows);
  });

  test.each<[string, QueryParameters, string]>([
    ["works", { asOf: "2025-03-20" }, "parameter.notAllowed"],
    ["works", { zone: "UTC" }, "parameter.notAllowed"],
    ["shut", { zone: "UTC" }, "parameter.notAllowed"],
  ])("a reader may not at %s with %j", async (listing, requested, code) => {
    expect(await refusal(reader.records(listing, requested))).toMatchObject({
      status: 422,
      faults: [{ code, parameter: Object.keys(requested)[0] }],
    });
  });

  test("a listing lets readers, or nobody at all", async () => {
    const requested = { raised: "month-1", asOf: "2025-03-20", zone: "UTC" };
    expect(await orders(reader, "open", requested)).toBe("02 03 04 05");
    expect(await orders(running.client, "shut", { raised: "month-1", asOf: "2025-03-20" })).toBe(
      "02 03 04 05",
    );
    expect(await refusal(running.client.records("shut", { zone: "UTC" }))).toMatchObject({
      faults: [{ code: "parameter.notAllowed" }],
    });
  });

  test.each<[QueryParameters, string]>([
    [{ asOf: "today" }, "parameter.value"],
    [{ asOf: "2025-02-30" }, "date.impossible"],
    [{ asOf: "soon" }, "window.word"],
    [{ zone: "Europe/Lundon" }, "zone.unknown"],
    [{ asOf: ["2025-02-01", "2025-02-02"] }, "parameter.repeated"],
  ])("%j is refused", async (requested, code) => {
    const problem = await refusal(running.client.records("works", requested));
    expect(problem?.status).toBe(422);
    expect(problem?.faults.map((each) => each.code)).toContain(code);
  });
});

describe("the caller in a condition that no caller can change", () => {
  test("is the name of the key, so that two keys see two sets of records", async () => {
    expect(await orders(running.client, "mine", {})).toBe("02 04 06");
    expect(await orders(reader, "mine", {})).toBe("02 04");
    // And the other way round, since nothing of it is held for the next caller.
    expect(await orders(running.client, "mine", {})).toBe("02 04 06");
  });
});
