import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;
const FILE = `closure,begins,lock,reason,contact
C-1,2025-02-10,Alder,"<script>alert('x')</script> & repairs",secret one
C-2,2025-02-20,Brindle,inspection,secret two
C-3,2025-03-05,Alder,stoppage,secret three
C-4,2024-03-05,Alder,stoppage,old
`;
const LISTING: NewListing = {
  source: "closures",
  title: "Closures ahead",
  mainDate: "begins",
  fixedFilter: "begins >= DATE('2025-01-01')",
  columns: ["closure", "begins", "lock", "reason"],
  labels: { begins: "from" },
  formats: { begins: { pattern: "d MMMM yyyy" } },
  parameters: [
    { name: "on", column: "begins", type: "window", comparison: "on", label: "When" },
    { name: "lock", column: "lock", type: "oneOf", comparison: "is", values: ["Alder", "Brindle"] },
    { name: "reason", column: "reason", type: "text", comparison: "contains" },
  ],
  page: { size: 2, max: 100 },
  order: { allowed: ["begins"], default: "begins" },
};

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 0, 20) });
  const { client } = running;
  const reading = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await client.createSource({
    name: "closures",
    key: "closure",
    columns: { begins: { type: "date", reading } },
  });
  await client.importFile("closures", FILE);
  await client.declareListing("closures", { ...LISTING, public: true });
  await client.declareListing("inside", LISTING);
});
afterAll(() => running.end());

async function get(path: string, init: RequestInit = {}) {
  const answer = await fetch(`${running.service.url}${path}`, init);
  return { status: answer.status, headers: answer.headers, text: await answer.text() };
}

describe("a public listing", () => {
  test("is read without a key: its records, in every format, and the figures around them", async () => {
    const { status, text, headers } = await get("/v1/listings/closures/records?lock=Alder");
    expect(status).toBe(200);
    const { records } = JSON.parse(text) as { records: Record<string, string>[] };
    expect(records.map(({ id }) => id)).toEqual(["C-1", "C-3"]);
    expect(Object.keys(records[0] ?? {})).toEqual(["id", "closure", "begins", "lock", "reason"]);
    expect(headers.get("cache-control")).toBe("public, no-cache");
    for (const path of [
      "records.csv",
      "records.ics",
      "records/C-2",
      "choices/lock",
      "extent",
      "summary",
    ]) {
      expect([path, (await get(`/v1/listings/closures/${path}`)).status]).toEqual([path, 200]);
    }
  });

  test("gives away nothing else: no explanation, declaration, column or record beside its own", async () => {
    const refused = ["explain", "why", "why/C-4", "versions", "windows", "feeds", ""];
    for (const path of refused) {
      expect([
        path,
        (await get(`/v1/listings/closures/${path}`.replace(/\/$/, ""))).status,
      ]).toEqual([path, 401]);
    }
    const method = "POST";
    const headers = { "Content-Type": "application/json" };
    const counts = await get("/v1/listings/closures/counts", { method, headers, body: "{}" });
    expect(counts.status).toBe(401);
    expect((await get("/v1/listings/closures/records/C-4")).status).toBe(404);
    expect((await get("/v1/listings/closures/records?columns=contact")).status).toBe(422);
    expect((await get("/v1/listings/closures/choices/contact")).status).toBe(422);
    expect((await get("/v1/listings/closures/records?contact=secret")).status).toBe(422);
    const all = await get("/v1/listings/closures/records.csv");
    expect(all.text).not.toMatch(/secret|C-4|old/);
    const why = await get("/v1/listings/closures/records?lock=Brindle&reason=nothing&with=why");
    expect(why.text).not.toMatch(/secret|C-4/);
    // Another listing of the same source is as closed as before.
    expect((await get("/v1/listings/inside/records")).status).toBe(401);
    expect((await get("/v1/listings")).status).toBe(401);
    expect((await get("/public/inside")).status).toBe(404);
  });

  test("has a page that needs no scripts, whose values are text, and that is narrowed by its form", async () => {
    const { status, text, headers } = await get("/public/closures");
    expect(status).toBe(200);
    expect(headers.get("content-type")).toBe("text/html; charset=utf-8");
    expect(headers.get("cache-control")).toBe("public, max-age=60");
    expect(text).toContain("<h1>Closures ahead</h1>");
    expect(text).toContain("<td>10 February 2025</td>");
    expect(text).toContain("&lt;script&gt;alert(&#39;x&#39;)&lt;/script&gt; &amp; repairs");
    expect(text).not.toMatch(/<script|secret|C-4/);
    expect(text).toContain("2 of 3 records");
    const next = /rel="next" href="([^"]+)"/.exec(text)?.[1]?.replaceAll("&amp;", "&") ?? "";
    expect((await get(`/public/closures${next}`)).text).toContain("<td>C-3</td>");
    const narrowed = await get("/public/closures?on=2025-03&lock=Alder");
    expect(narrowed.text).toContain("<td>C-3</td>");
    expect(narrowed.text).not.toContain("<td>C-1</td>");
    expect(narrowed.text).toContain("<option selected>Alder</option>");
    const held = await get("/public/closures?on=2025-03&lock=Alder", {
      headers: { "If-None-Match": narrowed.headers.get("etag") ?? "" },
    });
    expect(held.status).toBe(304);
  });

  test("says on its page what is wrong with a request, and shows nothing in its place", async () => {
    const { status, text } = await get('/public/closures?on=soon"><b>&lock=Tarn');
    expect(status).toBe(422);
    expect(text).toContain('role="alert"');
    expect(text).toContain('value="soon&quot;&gt;&lt;b&gt;"');
    expect(text).not.toContain("<table>");
  });

  test("is closed again by its declaration", async () => {
    const { client } = running;
    await client.declareListing("closures", LISTING);
    expect((await get("/v1/listings/closures/records")).status).toBe(401);
    expect((await get("/public/closures")).status).toBe(404);
    await client.declareListing("closures", { ...LISTING, public: true });
    expect((await get("/public/closures")).status).toBe(200);
  });

  test("tells nobody what somebody else has chosen", async () => {
    await get("/v1/listings/closures/records?lock=Brindle");
    const { text } = await get("/v1/listings/closures/choices/lock");
    expect(text).toContain("Brindle");
    expect(text).not.toContain("recent");
    await running.client.records("closures", { lock: "Brindle" });
    expect(await running.client.choices("closures", "lock", {})).toHaveProperty("recent");
  });

  test("is found by anybody under the name that it had before", async () => {
    const { client } = running;
    await client.renameListing("closures", { to: "closures-ahead" });
    for (const path of [
      "/v1/listings/closures/records?lock=Alder",
      "/public/closures?lock=Alder",
    ]) {
      const { status, text } = await get(path);
      expect([path, status]).toEqual([path, 200]);
      expect(text).toContain("C-3");
      expect(text).not.toContain("C-2");
    }
    await client.renameListing("closures-ahead", { to: "closures" });
  });

  test("is answered so many times a minute from one address, and with a key all the same", async () => {
    const statuses: number[] = [];
    for (let request = 0; request < 320; request++) {
      statuses.push((await get("/v1/listings/closures/extent")).status);
    }
    expect(statuses.at(-1)).toBe(429);
    expect(statuses.filter((each) => each === 200).length).toBeGreaterThan(200);
    expect((await running.client.records("closures", {})).records.length).toBe(2);
  });
});
