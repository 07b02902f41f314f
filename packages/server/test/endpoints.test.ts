import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { Ajv2020 } from "ajv/dist/2020.js";
import type { NewListing } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;
let reader: string;

const FILE = `work,raised,lock,status,cost
W-1,2025-02-10,Alder,open,300
W-2,2025-02-11,Alder,done,100
W-3,2025-02-12,Alder,open,200
W-4,2025-02-13,Alder,open,400
W-5,2025-02-14,Brindle Top,open,500
`;
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  columns: ["work", "raised", "status", "cost"],
  parameters: [
    { name: "lock", column: "lock", type: "text", comparison: "is" },
    { name: "from", column: "raised", type: "date", comparison: "from" },
    { name: "status", column: "status", type: "several", comparison: "among" },
  ],
  order: { allowed: ["raised", "cost"], default: "raised" },
  page: { size: 2, max: 100 },
  endpoint: {
    path: "/api/locks/{lock}/works",
    order: { field: "sort", direction: "dir" },
    paging: { limit: "limit", offset: "offset" },
    fields: { id: "ref", raised: "reportedOn", cost: "pence" },
    answer: { records: "items", total: "total", next: "next" },
    messages: {
      "*": { "date.impossible": "{value} is no date for {parameter}" },
      de: { "date.impossible": "{value} ist kein Datum", "order.unknown": "unbekannte Sortierung" },
    },
  },
};

beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 2, 14, 12) });
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  await client.createSource({
    name: "works",
    key: "work",
    columns: { raised: { type: "date", reading }, cost: { type: "integer" } },
  });
  await client.importFile("works", FILE);
  await client.declareListing("works", LISTING);
  reader = (await client.createKey({ name: "site", role: "reader", listings: ["works"] })).key;
});
afterAll(() => running.end());

async function get(path: string, headers: Record<string, string> = {}) {
  const response = await fetch(`${running.service.url}${path}`, {
    headers: { Authorization: `Bearer ${reader}`, ...headers },
  });
  const text = await response.text();
  return {
    status: response.status,
    json: text === "" ? null : (JSON.parse(text) as Found),
    response,
  };
}
interface Found {
  readonly items: readonly { readonly ref: string }[];
  readonly total: number;
  readonly next: string | null;
  readonly detail: string;
  readonly faults: readonly {
    parameter?: string;
    code: string;
    message: string;
    accepted?: string;
  }[];
}

interface Described {
  readonly parameters: readonly {
    readonly name: string;
    readonly in: string;
    readonly schema: { readonly enum?: readonly string[] };
  }[];
  readonly responses: Record<string, { content: Record<string, { schema: object }> }>;
}

const WORKS = "/api/locks/Alder/works";

describe("an endpoint of a listing's own", () => {
  test("answers in its own shape, with its own names, for the parent in its path", async () => {
    const { status, json } = await get(`${WORKS}?sort=pence&dir=desc`);
    expect([status, json]).toEqual([
      200,
      {
        items: [
          { ref: "W-4", reportedOn: "2025-02-13", pence: 400 },
          { ref: "W-1", reportedOn: "2025-02-10", pence: 300 },
        ],
        total: 4,
        next: `${WORKS}?sort=pence&dir=desc&offset=2`,
      },
    ]);
    const other = await get("/api/locks/Brindle%20Top/works?status=open");
    expect(other.json?.items.map(({ ref }) => ref)).toEqual(["W-5"]);
    expect((await get("/api/locks/Nowhere/works")).json).toMatchObject({ items: [], total: 0 });
    // Parameters mean what they mean at the listing: the day is in.
    const from = await get(`${WORKS}?from=2025-02-12`);
    expect(from.json?.items.map(({ ref }) => ref)).toEqual(["W-3", "W-4"]);
  });

  test("is described in openapi.json as it is, and answers as described", async () => {
    const { json } = await get("/openapi.json");
    const { paths } = json as unknown as {
      paths: Record<string, { get: Described }>;
    };
    const described = paths["/api/locks/{lock}/works"]?.get;
    expect(described?.parameters.map(({ name, in: place }) => `${place} ${name}`)).toEqual([
      "path lock",
      "query from",
      "query from.blank",
      "query status",
      "query status.blank",
      "query sort",
      "query dir",
      "query limit",
      "query offset",
    ]);
    const sort = described?.parameters.find(({ name }) => name === "sort");
    expect(sort?.schema.enum).toEqual(["reportedOn", "pence"]);
    const content = described?.responses["200"]?.content["application/json"]?.schema;
    const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(
      content ?? false,
    );
    const answer = await get(`${WORKS}?sort=pence&dir=desc&limit=1&offset=1`);
    expect(validate(answer.json)).toBe(true);
    expect(validate({ ...answer.json, items: [{ work: "W-1" }] })).toBe(false);
    // The listing's own call is there as before.
    expect(Object.keys(paths)).toContain("/v1/listings/works/records");
  });

  test("has every record once over its pages, from whatever place", async () => {
    const all: string[] = [];
    for (let next: string | null = `${WORKS}?limit=3`; next !== null;) {
      const { json }: { json: Found | null } = await get(next);
      all.push(...(json?.items ?? []).map(({ ref }) => ref));
      next = json?.next ?? null;
    }
    expect(all).toEqual(["W-1", "W-2", "W-3", "W-4"]);
    const odd = await get(`${WORKS}?limit=2&offset=1`);
    expect(odd.json?.items.map(({ ref }) => ref)).toEqual(["W-2", "W-3"]);
    const link = odd.response.headers.get("Link") ?? "";
    expect(link).toContain(`<${WORKS}?limit=2&offset=0>; rel="prev"`);
    const held = await get(`${WORKS}?limit=2&offset=1`, {
      "If-None-Match": odd.response.headers.get("ETag") ?? "",
    });
    expect(held.status).toBe(304);
  });

  test("refuses what is wrong by the names that were sent, in its own words and language", async () => {
    const wrong = await get(`${WORKS}?from=soonish&limit=0&sort=lock&dir=up`, {
      "Accept-Language": "fr, de;q=0.5",
    });
    expect(wrong.status).toBe(422);
    expect(wrong.json?.faults.map(({ parameter, code }) => [parameter, code])).toEqual([
      ["dir", "parameter.value"],
      ["sort", "order.unknown"],
      ["from", expect.any(String)],
      ["limit", "page.size"],
    ]);
    expect(wrong.json?.faults[1]).toMatchObject({ message: "unbekannte Sortierung" });
    expect(wrong.json?.faults[1]?.accepted).toContain("pence");
    const size = await get(`${WORKS}?limit=0&offset=-1`);
    expect(size.json?.faults.map(({ parameter }) => parameter)).toEqual(["limit", "offset"]);
    const date = await get(`${WORKS}?from=20x`, { "Accept-Language": "de" });
    expect(date.json?.faults[0]?.parameter).toBe("from");
    const both = await get(`${WORKS}?lock=Brindle%20Top`);
    expect(both.json?.faults[0]).toMatchObject({ code: "parameter.conflict", parameter: "lock" });
    const alone = await get(`${WORKS}?dir=desc`);
    expect(alone.json?.faults[0]?.accepted).toContain("sort");
    const unknown = await get(`${WORKS}?colour=red`);
    expect(unknown.json?.faults[0]).toMatchObject({ code: "parameter.unknown" });
  });

  test("gives its own text in the language that is accepted, and one for all others", async () => {
    const tell = async (language: string) => {
      const { json } = await get(`${WORKS}?from=2025-02-30`, { "Accept-Language": language });
      return [json?.detail, json?.faults[0]?.message];
    };
    expect(await tell("en")).toEqual([
      "2025-02-30 is no date for from",
      "2025-02-30 is no date for from",
    ]);
    expect(await tell("de-AT, en;q=0.5")).toEqual([
      "2025-02-30 ist kein Datum",
      "2025-02-30 ist kein Datum",
    ]);
  });

  test("is read by those who may read the listing, and says nothing to others", async () => {
    const { client, service } = running;
    const { key } = await client.createKey({ name: "other", role: "reader", listings: ["works"] });
    await client.declareListing("plain", { ...LISTING, endpoint: { path: "/api/works" } });
    const asOther = { Authorization: `Bearer ${key}` };
    expect((await get("/api/works", asOther)).status).toBe(404);
    const bare = await fetch(`${service.url}${WORKS}?sort=secret`);
    expect(bare.status).toBe(401);
    expect(await bare.text()).not.toContain("pence");
    const foreign = await get("/api/works?sort=x", asOther);
    expect(foreign.status).toBe(404);
    expect((await get("/api/nothing")).status).toBe(404);
    expect((await get("/api/locks/%E0%A4%A/works")).status).toBe(404);
    const post = await fetch(`${service.url}${WORKS}`, { method: "POST" });
    expect(post.status).toBe(404);
    await client.declareListing("plain", {
      ...LISTING,
      public: true,
      endpoint: { path: "/api/works", answer: "list", paging: { page: "page", limit: "per" } },
    });
    const open = await fetch(`${service.url}/api/works?per=2&page=2`);
    expect(open.headers.get("Cache-Control")).toContain("public");
    const list = (await open.json()) as { id: string }[];
    expect(list.map(({ id }) => id)).toEqual(["W-3", "W-4"]);
    expect(Object.keys(list[0] ?? {}).sort()).toEqual(["cost", "id", "raised", "status", "work"]);
    expect(open.headers.get("Link")).toContain("page=3");
  });

  test("is declared with names that nothing else has, and one path for one listing", async () => {
    const { client } = running;
    const faults = async (endpoint: NonNullable<NewListing["endpoint"]>) => {
      const problem = await refusal(client.declareListing("wrong", { ...LISTING, endpoint }));
      return problem?.faults.map(({ path, code }) => `${path} ${code}`);
    };
    expect(await faults({ path: "/v1/works" })).toEqual(["endpoint.path parameter.setting"]);
    expect(await faults({ path: "/api/{place}/works" })).toEqual(["endpoint.path name.unknown"]);
    expect(await faults({ path: "/api/locks/{status}/works" })).toEqual([
      "endpoint.path parameter.setting",
    ]);
    expect(
      await faults({
        path: "/api/x",
        order: { field: "status" },
        paging: { page: "p", offset: "p" },
        fields: { lock: "lock", cost: "a", raised: "a" },
        messages: { de: { "date.impossibel": "falsch" } },
      }),
    ).toEqual([
      "endpoint.paging parameter.setting",
      "endpoint.paging parameter.setting",
      "endpoint.paging.page parameter.setting",
      "endpoint.fields.lock column.unknown",
      "endpoint.fields parameter.setting",
      "endpoint.messages.de name.unknown",
    ]);
    const copied = await client.copyListing("works", { name: "copied", title: "Copied" });
    expect(copied.listing.endpoint).toBeUndefined();
  });
});
