import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { RecordAnswer, RecordsAnswer } from "@orisma/core/internal";
import ExcelJS from "exceljs";
import Papa from "papaparse";
import { startTestService, type TestService } from "../../../test/service.js";

const RECORDS = 2_345;
const WORDS = ["Clear, gates", 'say "go"', "=1+1", "two\nlines", "Éclusier"];

/** Works of which some have no date, some one that cannot be read. */
const LINES = Array.from({ length: RECORDS }, (_, index) => {
  const day = `2025-${String(1 + (index % 12)).padStart(2, "0")}-${String(1 + (index % 28)).padStart(2, "0")}`;
  const raised = index % 50 === 0 ? "" : index % 51 === 0 ? "soon" : day;
  return {
    ref: `W-${String(index).padStart(5, "0")}`,
    raised,
    task: WORDS[index % 5],
    cost: index,
  };
});

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  const { client } = running;
  const reading = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await client.createSource({
    name: "works",
    key: "ref",
    columns: { raised: { type: "date", reading }, cost: { type: "integer" } },
  });
  const file = LINES.map((line) => JSON.stringify(line)).join("\n");
  await client.importFile("works", new TextEncoder().encode(file));
  await client.declareListing("works", {
    source: "works",
    title: "Works: raised?",
    mainDate: "raised",
    labels: { raised: "Raised on" },
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
      { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
    ],
    order: { allowed: ["raised", "cost"], default: "-raised", tieBreakers: ["-cost"] },
    page: { size: 100, numbered: true },
  });
});
afterAll(() => running.end());

function parse(text: string): readonly (readonly string[])[] {
  return Papa.parse<string[]>(text, { skipEmptyLines: true }).data;
}

function call(path: string, init: RequestInit = {}): Promise<Response> {
  const headers = new Headers(init.headers);
  headers.set("authorization", `Bearer ${running.service.key}`);
  return fetch(`${running.service.url}/v1/listings/works/${path}`, { ...init, headers });
}

/** Every record of a query, page after page. */
async function paged(query: string): Promise<readonly RecordAnswer[]> {
  let page = (await (await call(`records?size=500&${query}`)).json()) as RecordsAnswer;
  const records = [...page.records];
  while (page.links.next !== undefined) {
    page = await running.client.follow(page.links.next);
    records.push(...page.records);
  }
  return records;
}

/** The link to a page by its cursor. */
async function paging(): Promise<string> {
  const { links } = (await (await call(`records?${QUERY}`)).json()) as RecordsAnswer;
  return links.next ?? "";
}

const QUERY = "from=2025-02&to=2025-11&from.blank=include";

describe("formats", () => {
  test("CSV, NDJSON and sheets hold the records of all pages, in their order", async () => {
    const wanted = await paged(QUERY);
    expect(wanted.length).toBeGreaterThan(1_500);
    expect(wanted.length).toBeLessThan(RECORDS);

    const csv = await call(`records.csv?${QUERY}`);
    expect(csv.headers.get("content-type")).toContain("text/csv");
    const rows = parse(await csv.text());
    expect(rows[0]).toEqual(["ref", "Raised on", "task", "cost"]);
    const answer = wanted.map(({ ref, raised, task, cost }) => [
      ref,
      raised ?? "",
      task,
      String(cost),
    ]);
    expect(rows.slice(1)).toEqual(answer);

    const lines = await call(`records?${QUERY}`, { headers: { accept: "application/x-ndjson" } });
    const records = (await lines.text()).trim().split("\n");
    expect(records.map((line) => JSON.parse(line) as unknown)).toEqual(wanted);

    const sheet = await call(`records?${QUERY}&format=xlsx`);
    const workbook = new ExcelJS.Workbook();
    await workbook.xlsx.load(await sheet.arrayBuffer());
    const [first] = workbook.worksheets;
    expect(first?.name).toBe("Works  raised");
    expect(first?.views[0]).toMatchObject({ state: "frozen", ySplit: 1 });
    const cells = Array.from({ length: wanted.length }, (_, index) => {
      const row = first?.getRow(index + 2);
      const date = row?.getCell(2).value;
      const day = date instanceof Date ? date.toISOString().slice(0, 10) : null;
      return [row?.getCell(1).value, day, row?.getCell(3).value, row?.getCell(4).value];
    });
    expect(cells).toEqual(wanted.map(({ ref, raised, task, cost }) => [ref, raised, task, cost]));
    expect(first?.rowCount).toBe(wanted.length + 1);
  });

  test("what could not be read goes out as it came; formulas are escaped on request alone", async () => {
    const all = parse(await (await call("records.csv")).text());
    expect(all).toHaveLength(RECORDS + 1);
    expect(all.find(([ref]) => ref === "W-00051")?.[1]).toBe("soon");
    expect(all.find(([ref]) => ref === "W-00002")?.[2]).toBe("=1+1");
    const escaped = parse(await (await call("records.csv?with=escaped")).text());
    expect(escaped.find(([ref]) => ref === "W-00002")?.[2]).toBe("'=1+1");
    expect(escaped.find(([ref]) => ref === "W-00003")?.[2]).toBe("two\nlines");
  });

  test("a size that is requested is kept to, and columns are those that are requested", async () => {
    const text = await (await call("records.csv?size=3&columns=cost&columns=ref")).text();
    const rows = parse(text);
    expect(rows).toHaveLength(4);
    expect(rows[0]).toEqual(["cost", "ref"]);
    const refused = await call("records.csv?columns=csot");
    expect([refused.status, await refused.json()]).toMatchObject([
      422,
      { faults: [{ parameter: "columns", nearest: ["cost"] }] },
    ]);
    expect((await call("records?format=pdf")).status).toBe(422);
  });

  test("a caller who goes away ends the query, and the service goes on", async () => {
    const gone = new AbortController();
    const response = await call("records.ndjson", { signal: gone.signal });
    await response.body?.getReader().read();
    gone.abort();
    for (let index = 0; index < 12; index++) {
      expect((await paged("from=2025-12")).length).toBeGreaterThan(0);
    }
  });
});

describe("other ways to records", () => {
  test("a query in a body has the answer of the same address, and its pages", async () => {
    const body = JSON.stringify({ from: "2025-02", to: "2025-11", size: "50" });
    const post = (path: string) =>
      call(path, { method: "POST", body, headers: { "content-type": "application/json" } });
    const first = (await (await post("records/query")).json()) as RecordsAnswer;
    const got = (await (
      await call("records?from=2025-02&to=2025-11&size=50")
    ).json()) as RecordsAnswer;
    expect(first.records).toEqual(got.records);
    const [, query = ""] = (first.links.next ?? "").split("?");
    const second = (await (await post(`records/query?${query}`)).json()) as RecordsAnswer;
    const next = await running.client.follow(got.links.next ?? "");
    expect(second.records).toEqual(next.records);
    expect(second.records[0]).not.toEqual(first.records[0]);
  });

  test("one record is found by its id, inside what is requested", async () => {
    const found = await call("records/W-00003");
    expect(await found.json()).toMatchObject({
      id: "W-00003",
      task: "two\nlines",
      raised: "2025-04-04",
    });
    expect((await call("records/W-99999")).status).toBe(404);
    expect((await call("records/W-00003?from=2025-05")).status).toBe(404);
    expect((await call("records/W-00003?from=2025-04")).status).toBe(200);
  });

  test("numbered pages joined are all of it; far ones are refused with what is accepted", async () => {
    const all = await paged(QUERY);
    const first = await call(`records?${QUERY}&size=400&page=1`);
    let page = (await first.json()) as RecordsAnswer;
    const ids = page.records.map(({ id }) => id);
    expect(page.links.previous).toBe(undefined);
    for (let number = 2; page.links.next !== undefined; number++) {
      const before = page.records[0]?.id;
      page = await running.client.follow(page.links.next);
      ids.push(...page.records.map(({ id }) => id));
      expect(page.links.previous).toContain(`page=${number - 1}`);
      const back = await running.client.follow(page.links.previous ?? "");
      expect(back.records[0]?.id).toBe(before);
    }
    expect(ids).toEqual(all.map(({ id }) => id));
    const cursor = new URLSearchParams((await paging()).split("?")[1]).get("cursor") ?? "";
    const both = await call(`records?${QUERY}&page=2&cursor=${encodeURIComponent(cursor)}`);
    expect(await both.json()).toMatchObject({ faults: [{ code: "parameter.conflict" }] });
    expect((await call("records?page=100000")).status).toBe(422);
    expect((await call("records?page=0")).status).toBe(422);
  });

  test("HEAD has the headers of GET and no body", async () => {
    const head = await call("records?from=2025-02", { method: "HEAD" });
    const get = await call("records?from=2025-02");
    expect([head.status, head.headers.get("etag"), await head.text()]).toEqual([
      200,
      get.headers.get("etag"),
      "",
    ]);
  });
});
