import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { gunzipSync } from "node:zlib";
import { get } from "node:http";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

/** Saturday 15 February 2025, 12:00:00 in London. */
const NOW = Date.UTC(2025, 1, 15, 12);
const clock = { now: NOW };

let running: TestService;

beforeAll(async () => {
  running = await startTestService({ now: () => clock.now });
  const { client } = running;
  await importWorks(client);
  await client.declareListing("kept", {
    source: "works",
    zone: "Europe/London",
    mainDate: "passed",
    parameters: [
      { name: "passed", type: "window", column: "passed", comparison: "on" },
      { name: "raised", type: "window", column: "raised", comparison: "on" },
      { name: "to", type: "date", column: "raised", comparison: "to" },
    ],
    cacheFor: { current: "P1D", past: "P30D" },
    allowedOrigins: ["https://vale.example", "http://127.0.0.1:5173"],
  });
});
afterAll(() => running.end());

function ask(
  path: string,
  headers: Readonly<Record<string, string>> = {},
  method = "GET",
): Promise<Response> {
  const authorization = `Bearer ${running.service.key}`;
  const url = `${running.service.url}/v1/listings/${path}`;
  return fetch(url, { method, headers: { authorization, ...headers } });
}

describe("how long an answer may be held", () => {
  test.each<[string, string]>([
    // The month ends thirteen days and a half on: the declared day is less.
    ["passed=month", "max-age=86400"],
    // Today ends in twelve hours, and so does what `now` is to days.
    ["passed=today", "max-age=43200"],
    ["to=now", "max-age=43200"],
    ["passed=hour", "max-age=3600"],
    ["passed=2025-01/today", "max-age=43200"],
    ["passed=2025-01", "max-age=2592000"],
    ["passed=2025-02", "max-age=86400"],
    ["passed=2025-01&passed.blank=include", "max-age=86400"],
    // Of another column than the listing's main date nothing is reported what has passed.
    ["raised=2025-01", "max-age=86400"],
    // What will have passed by then has not.
    ["passed=2025-03&asOf=2030-01-01", "max-age=86400"],
    ["passed=now/..", "no-cache"],
    ["", "max-age=86400"],
  ])("?%s has %s", async (query, expected) => {
    const { headers } = await ask(`kept/records?${query}`);
    expect(headers.get("cache-control")).toBe(`private, ${expected}`);
  });

  test("ends with the day of which a phrase speaks, whose dates are others on another day", async () => {
    const { client } = running;
    await client.declareListing("spoken", {
      source: "works",
      zone: "Europe/London",
      mainDate: "raised",
      phrases: true,
      parameters: [{ name: "raised", type: "window", column: "raised", comparison: "on" }],
      cacheFor: { current: "P1D", past: "P30D" },
      filter: { columns: "all" },
    });
    const read = async (query: string) => {
      const answer = await ask(`spoken/records?columns=order&${query}`);
      const body = (await answer.json()) as { records?: { order: string }[]; faults?: object[] };
      const orders = body.records?.map(({ order }) => order).sort();
      return [answer.headers.get("cache-control"), orders ?? body.faults];
    };
    // The day before is out, the first day and all that follow are in.
    const all = ["W-03", "W-04", "W-05", "W-06"];
    expect(await read("raised=since+Friday")).toEqual(["private, max-age=43200", all]);
    expect(await read("raised=2025-02-14/..")).toEqual(["private, max-age=86400", all]);
    expect(await read("raised=3+Jan+2025")).toEqual(["private, max-age=43200", []]);
    const inFilter = `filter=${encodeURIComponent("inWindow(raised, 'since Friday')")}`;
    expect(await read(inFilter)).toEqual(["private, max-age=43200", all]);
    clock.now = NOW + 7 * 86_400_000;
    const fewer = ["W-04", "W-05", "W-06"];
    expect(await read("raised=since+Friday")).toEqual(["private, max-age=43200", fewer]);
    expect(await read(inFilter)).toEqual(["private, max-age=43200", fewer]);
    clock.now = NOW;
    expect(await read("raised=Friday")).toEqual([
      expect.anything(),
      [
        expect.objectContaining({
          code: "phrase.ambiguous",
          nearest: ["2025-02-14", "2025-02-21"],
        }),
      ],
    ]);
    expect(await refusal(client.records("kept", { raised: "since Friday" }))).toMatchObject({
      status: 422,
      faults: [{ parameter: "raised", code: "window.word", nearest: ["2025-02-14/.."] }],
    });
    const described = JSON.stringify(await client.description());
    expect(described).toContain(
      "raised on a window, such as 2025-02, month-1 or P6W/now, or a phrase",
    );
    await client.deleteListing("spoken");
    const without = JSON.stringify(await client.description());
    expect(without).not.toContain("or a phrase such as");
  });

  test("ends with the day where a column counts days to now, and is nothing where it counts hours", async () => {
    const listing = {
      source: "works",
      zone: "Europe/London",
      mainDate: "raised",
      cacheFor: { current: "P3D", past: "P30D" },
      parameters: [{ name: "raised", type: "window", column: "raised", comparison: "on" }],
    } as const;
    const heldFor = async (column: string) => {
      const derived = { age: { kind: "days", from: column, to: "now" } } as const;
      await running.client.declareListing("aged", { ...listing, derived });
      return (await ask("aged/records?raised=2025-01")).headers.get("cache-control");
    };
    expect(await heldFor("raised")).toBe("private, max-age=43200");
    expect(await heldFor("passed")).toBe("private, no-cache");
  });

  test("is nothing where no cacheFor is declared, nor by POST", async () => {
    const { headers } = await ask("works-passed/records?from=2025-01-01&to=2025-01-31");
    expect(headers.get("cache-control")).toBe("private, no-cache");
    const posted = await fetch(`${running.service.url}/v1/listings/kept/records/query`, {
      method: "POST",
      body: "{}",
      headers: {
        authorization: `Bearer ${running.service.key}`,
        "content-type": "application/json",
      },
    });
    expect(posted.headers.get("cache-control")).toBe("private, no-cache");
  });

  test("a cacheFor of months, or of no length, is refused by its place", async () => {
    const listing = { source: "works", mainDate: "raised", cacheFor: { current: "P1M" } };
    await expect(running.client.declareListing("wrong", listing)).rejects.toMatchObject({
      problem: { faults: [{ code: "parameter.setting", path: "cacheFor.current" }] },
    });
    const other = {
      ...listing,
      cacheFor: { past: "a day" },
      allowedOrigins: ["https://a.example/x"],
    };
    await expect(running.client.declareListing("wrong", other)).rejects.toMatchObject({
      problem: { faults: [{ path: "cacheFor.past" }, { path: "allowedOrigins.0" }] },
    });
  });
});

test.each(["records", "records/W-03", "choices/note", "extent", "timeline", "summary?by=cost"])(
  "%s is answered with 304 to who holds it, and again once the data has changed",
  async (path) => {
    const first = await ask(`works-raised/${path}`);
    const etag = first.headers.get("etag") ?? "";
    expect([first.status, etag]).toEqual([200, expect.stringMatching(/^W\/"[\w-]{27}"$/)]);
    expect(first.headers.get("vary")).toMatch(/Accept, Authorization, Cookie, Accept-Encoding/);
    const again = await ask(`works-raised/${path}`, { "if-none-match": etag });
    expect([again.status, await again.text()]).toEqual([304, ""]);
    const { client } = running;
    await client.importFile("works", `order,raised,passed,cost,note\nW-03,14/02/2030,,77,other\n`);
    const changed = await ask(`works-raised/${path}`, { "if-none-match": etag });
    expect(changed.status).toBe(200);
    await client.restoreRecords("works");
    expect((await ask(`works-raised/${path}`, { "if-none-match": etag })).status).toBe(304);
  },
);

describe("pages of other places on the web", () => {
  test.each([
    ["https://vale.example", "https://vale.example"],
    ["http://127.0.0.1:5173", "http://127.0.0.1:5173"],
    ["https://elsewhere.example", null],
    ["https://vale.example.elsewhere.example", null],
  ])("%s is reported %s", async (origin, allowed) => {
    const answer = await ask("kept/records", { origin });
    expect(answer.headers.get("access-control-allow-origin")).toBe(allowed);
    expect(answer.headers.get("vary")).toMatch(/Origin/);
    const requested = await fetch(`${running.service.url}/v1/listings/kept/records`, {
      method: "OPTIONS",
      headers: {
        origin,
        "access-control-request-method": "GET",
        "access-control-request-headers": "authorization",
      },
    });
    expect(requested.headers.get("access-control-allow-origin")).toBe(allowed);
    if (allowed !== null) {
      expect(requested.status).toBe(204);
      expect(requested.headers.get("access-control-allow-headers")).toContain("Authorization");
    }
  });

  test("a listing that declares none, and one that is not there, allow nobody", async () => {
    for (const path of ["works-raised/records", "nothing/records"]) {
      const { headers } = await ask(path, { origin: "https://vale.example" });
      expect(headers.get("access-control-allow-origin")).toBeNull();
    }
  });

  test("may read why they were refused", async () => {
    const answer = await ask("kept/records", {
      origin: "https://vale.example",
      authorization: "Bearer wrong",
    });
    expect(answer.status).toBe(401);
    expect(answer.headers.get("access-control-allow-origin")).toBe("https://vale.example");
  });
});

test.each(["gzip", "br"])("an answer is sent in %s to who takes it", async (encoding) => {
  const { key, url } = running.service;
  const headers = { authorization: `Bearer ${key}`, "accept-encoding": encoding };
  const found = await new Promise<{ readonly coding: string; readonly body: Buffer }>(
    (resolve, reject) => {
      get(`${url}/v1/listings/works-raised/records?size=10`, { headers }, (response) => {
        const chunks: Buffer[] = [];
        response.on("data", (chunk: Buffer) => chunks.push(chunk));
        response.on("end", () => {
          const coding = String(response.headers["content-encoding"]);
          resolve({ coding, body: Buffer.concat(chunks) });
        });
      }).on("error", reject);
    },
  );
  expect(found.coding).toBe(encoding);
  if (encoding === "gzip") expect(gunzipSync(found.body).toString()).toContain('"W-03"');
});
