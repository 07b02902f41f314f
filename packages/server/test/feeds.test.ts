import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient, type NewListing } from "@orisma/client";
import ical from "node-ical";
import { SaxesParser } from "saxes";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let now = Date.UTC(2025, 2, 14, 12);
let running: TestService;

const FILE = `work,raised,due,begins,ends,status,task
W-1,2025-02-10,2025-02-12,2025-03-29T09:00:00,2025-03-29T17:30:00,planned,"Mend, the ""gate""; seal"
W-2,2025-02-28,2025-02-28,2025-03-31T09:00:00,,done,Grease the paddle gear
W-3,2025-03-05,2025-03-01,2025-10-26T01:30:00,2025-10-26T03:00:00,done,${"Clear the weed ".repeat(12)}
W-4,,2025-03-09,,,planned,No date
`;
const LISTING: NewListing = {
  source: "works",
  title: "Works of the vale",
  zone: "Europe/London",
  mainDate: "raised",
  parameters: [
    { name: "on", column: "raised", type: "window", comparison: "on", blanks: "include" },
    { name: "status", column: "status", type: "several", comparison: "among" },
  ],
  feed: {
    title: "{work}: {task}",
    end: "due",
    description: ["status", "due"],
    location: "status",
    planned: { column: "status", values: ["planned"] },
  },
};

beforeAll(async () => {
  running = await startTestService({ now: () => now });
  const { client } = running;
  const day = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  const time = { kind: "local", encoding: "text" } as const;
  await client.createSource({
    name: "works",
    key: "work",
    columns: {
      raised: { type: "date", reading: day },
      due: { type: "date", reading: day },
      begins: { type: "date", reading: time },
      ends: { type: "date", reading: time },
    },
  });
  await client.importFile("works", FILE);
  await client.declareListing("works", LISTING);
  await client.declareListing("timed", {
    ...LISTING,
    mainDate: "begins",
    parameters: [{ name: "on", column: "begins", type: "window", comparison: "on" }],
    feed: { title: "{task}", start: "begins", end: "ends" },
  });
});
afterAll(() => running.end());

async function get(path: string, headers: Record<string, string> = {}) {
  const { url, key } = running.service;
  const answer = await fetch(`${url}${path}`, {
    headers: { Authorization: `Bearer ${key}`, ...headers },
  });
  return { answer, text: await answer.text() };
}

/** The events of a calendar, as a parser of another maker has them. */
function eventsOf(text: string): readonly ical.VEvent[] {
  return Object.values(ical.sync.parseICS(text)).filter(
    (each): each is ical.VEvent => each?.type === "VEVENT",
  );
}

function summariesOf(text: string): readonly string[] {
  return eventsOf(text).map(({ summary }) => (typeof summary === "string" ? summary : summary.val));
}

/** What the elements hold of a well-formed document, by name; throws where it is none. */
function elementsIn(document: string): ReadonlyMap<string, readonly string[]> {
  const found = new Map<string, string[]>();
  const parser = new SaxesParser();
  let text = "";
  parser.on("error", (error) => {
    throw error;
  });
  parser.on("opentag", () => (text = ""));
  parser.on("text", (piece) => (text += piece));
  parser.on("closetag", ({ name }) => {
    found.set(name, [...(found.get(name) ?? []), text]);
    text = "";
  });
  parser.write(document).close();
  return found;
}

describe("a calendar", () => {
  test("has whole days with the last day in, titles, places, and what is planned only", async () => {
    const { answer, text } = await get("/v1/listings/works/records.ics?on=2025-02/2025-03");
    expect(answer.headers.get("content-type")).toBe("text/calendar; charset=utf-8");
    const events = eventsOf(text);
    expect(events.map(({ summary }) => summary)).toEqual([
      `W-3: ${"Clear the weed ".repeat(12).trim()}`,
      "W-2: Grease the paddle gear",
      'W-1: Mend, the "gate"; seal',
    ]);
    const first = events.at(-1);
    expect([first?.datetype, first?.status, first?.location]).toEqual([
      "date",
      "TENTATIVE",
      "planned",
    ]);
    expect(first?.description).toBe("status: planned\ndue: 2025-02-12");
    expect(text).toContain("DTSTART;VALUE=DATE:20250210\r\nDTEND;VALUE=DATE:20250213\r\n");
    // One that ends before it begins has no end.
    expect(text).toContain("DTSTART;VALUE=DATE:20250305\r\nSUMMARY");
    expect(text).toContain("X-ORISMA-WITHOUT-DATE:1");
    expect(text.split("\r\n").every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
  });

  test("has times at their moment, over a change of the clocks", async () => {
    const { text } = await get("/v1/listings/timed/records.ics");
    const events = eventsOf(text);
    const moments = events.map(({ start, end }) => [start.toISOString(), end?.toISOString()]);
    expect(moments).toContainEqual(["2025-03-29T09:00:00.000Z", "2025-03-29T17:30:00.000Z"]);
    expect(text).toContain("DTSTART:20250331T080000Z");
    expect(text).toContain("DTSTART:20251026T003000Z\r\nDTEND:20251026T030000Z");
  });

  test("names records alike as long as they have their ids, and counts imports", async () => {
    const uidsOf = (text: string) => eventsOf(text).map(({ uid }) => uid);
    const before = await get("/v1/listings/works/records.ics?on=2025");
    const held = await get("/v1/listings/works/records.ics?on=2025", {
      "If-None-Match": before.answer.headers.get("etag") ?? "",
    });
    expect(held.answer.status).toBe(304);
    await running.client.importFile("works", FILE.replace("Grease", "Oil"));
    const after = await get("/v1/listings/works/records.ics?on=2025");
    expect(uidsOf(after.text)).toEqual(uidsOf(before.text));
    expect(new Set(uidsOf(after.text)).size).toBe(3);
    const sequence = (text: string) => Number(/SEQUENCE:(\d+)/.exec(text)?.[1]);
    expect(sequence(after.text)).toBeGreaterThan(sequence(before.text));
    expect(after.answer.headers.get("etag")).not.toBe(before.answer.headers.get("etag"));
    await running.client.restoreRecords("works");
    const restored = await get("/v1/listings/works/records.ics?on=2025");
    expect(restored.text).toContain("Grease");
    expect(sequence(restored.text)).toBeGreaterThan(sequence(after.text));
    await running.client.restoreRecords("works");
    const whole = sequence((await get("/v1/listings/works/records.ics?on=2025")).text);
    await running.client.repairCell("works", { id: "W-1", column: "task", value: "Mend it" });
    const repaired = await get("/v1/listings/works/records.ics?on=2025");
    expect(repaired.text).toContain("W-1: Mend it");
    expect(sequence(repaired.text)).toBeGreaterThan(whole);
    await running.client.repairCell("works", {
      id: "W-1",
      column: "task",
      value: 'Mend, the "gate"; seal',
    });
  });

  test("has the very records of a window that moves, and is held until that does", async () => {
    const path = "/v1/listings/works/records.ics?on=month-1&on.blank=exclude";
    const { answer, text } = await get(path);
    expect(summariesOf(text).map((each) => each.slice(0, 3))).toEqual(["W-2", "W-1"]);
    expect(answer.headers.get("cache-control")).toBe("private, max-age=900");
    now = Date.UTC(2025, 2, 31, 22, 55);
    expect((await get(path)).answer.headers.get("cache-control")).toBe("private, max-age=300");
    now = Date.UTC(2025, 2, 31, 23, 0);
    expect(summariesOf((await get(path)).text).map((each) => each.slice(0, 3))).toEqual(["W-3"]);
    now = Date.UTC(2025, 2, 14, 12);
  });

  test("is refused with columns, and for a listing that names what it does not show", async () => {
    const { answer } = await get("/v1/listings/works/records.ics?columns=work");
    expect(answer.status).toBe(422);
    const feed = { title: "{colour}", start: "status" };
    const problem = await refusal(running.client.declareListing("wrong", { ...LISTING, feed }));
    expect(problem?.faults.map(({ path, value }) => [path, value])).toEqual([["feed", "colour"]]);
    const hidden = await refusal(
      running.client.declareListing("hidden", { ...LISTING, columns: ["work", "raised"] }),
    );
    expect(hidden?.faults.map(({ value }) => value)).toContain("due");
  });

  test("of more records than it has is refused, never cut", async () => {
    const lines = Array.from({ length: 5_001 }, (_, index) => `M-${index},2025-02-10`);
    const day = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
    const { client } = running;
    await client.createSource({
      name: "many",
      key: "work",
      columns: { raised: { type: "date", reading: day } },
    });
    await client.importFile("many", `work,raised\n${lines.join("\n")}\n`);
    await client.declareListing("many", { source: "many" });
    const { answer, text } = await get("/v1/listings/many/records.ics");
    expect(answer.status).toBe(413);
    expect(text).toContain("5,000 records at most");
    const one = await get("/v1/listings/many/records.ics?work=M-4999");
    expect(eventsOf(one.text).map(({ summary }) => summary)).toEqual(["many M-4999"]);
  });
});

describe("an Atom feed", () => {
  test("has an entry for each record, and is well formed", async () => {
    const { answer, text } = await get("/v1/listings/works/records.atom?on=2025-02");
    expect(answer.headers.get("content-type")).toContain("application/atom+xml");
    const found = elementsIn(text);
    expect(found.get("title")).toEqual([
      "Works of the vale",
      "W-2: Oil the paddle gear",
      'W-1: Mend, the "gate"; seal',
      "W-4: No date",
    ]);
    expect(found.get("published")).toEqual([
      "2025-02-28T00:00:00.000Z",
      "2025-02-10T00:00:00.000Z",
    ]);
    expect(new Set(found.get("id")).size).toBe(4);
    expect(found.get("content")?.[0]).toBe("done\nstatus: done\ndue: 2025-02-28");
  });
});

describe("a private address", () => {
  test("needs no key, reads what it was made for, and says what was delivered last", async () => {
    const { client, service, state } = running;
    const { key, id } = await client.createKey({
      name: "site",
      role: "reader",
      listings: ["works"],
    });
    const reader = new OrismaClient({ url: service.url, key });
    const made = await reader.createFeed("works", {
      name: "lock keeper",
      parameters: { on: "2025-02", "on.blank": "exclude" },
    });
    expect((await reader.feeds("works"))[0]).toMatchObject({ id: made.id, delivered: null });
    const answer = await fetch(made.calendar, { headers: { "User-Agent": "Calendar/7" } });
    expect(eventsOf(await answer.text()).length).toBe(2);
    const entry = await (await fetch(made.feed)).text();
    expect(elementsIn(entry).get("title")).toHaveLength(3);
    const [described] = await client.feeds("works");
    expect(described?.delivered).toMatchObject({ records: 2, at: new Date(now).toISOString() });
    // It is a secret: neither the list nor the log has it.
    const token = /feeds\/([\w-]+)\.ics/.exec(made.calendar)?.[1] ?? "none";
    expect(JSON.stringify(described)).not.toContain(token);
    expect(readFileSync(join(state, "logs/service.log"), "utf8")).not.toContain(token);
    // Under another name of its listing, and by another key in place of the first.
    await client.renameListing("works", { to: "works-of-the-vale" });
    expect((await fetch(made.calendar)).status).toBe(200);
    await client.renameListing("works-of-the-vale", { to: "works" });
    const rotated = await client.rotateKey(id);
    expect((await fetch(made.calendar)).status).toBe(200);
    await client.revokeKey(rotated.id);
    expect((await fetch(made.calendar)).status).toBe(404);
  });

  test("is revoked by who made it or an author, and by nobody else", async () => {
    const { client, service } = running;
    const { key } = await client.createKey({ name: "other", role: "reader" });
    const other = new OrismaClient({ url: service.url, key });
    const made = await client.createFeed("works", { name: "mine" });
    expect(await other.feeds("works")).toEqual([]);
    expect((await refusal(other.revokeFeed("works", made.id)))?.status).toBe(404);
    expect((await fetch(made.calendar)).status).toBe(200);
    await client.revokeFeed("works", made.id);
    expect((await fetch(made.calendar)).status).toBe(404);
    expect((await fetch(`${service.url}/feeds/nobody.ics`)).status).toBe(404);
    const wrong = await refusal(
      client.createFeed("works", { name: "x", parameters: { on: "soon" } }),
    );
    expect(wrong?.status).toBe(422);
  });

  test("is shown under the URL by which people reach the service", async () => {
    const behind = await startTestService({ settings: { baseUrl: "https://vale.example" } });
    const day = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
    const columns = { raised: { type: "date", reading: day } } as const;
    await behind.client.createSource({ name: "works", key: "work", columns });
    await behind.client.importFile("works", "work,raised\nW-1,2025-02-10\n");
    await behind.client.declareListing("works", { source: "works" });
    const { calendar, feed } = await behind.client.createFeed("works", { name: "crew" });
    expect(calendar).toMatch(/^https:\/\/vale\.example\/feeds\/[\w-]{32}\.ics$/);
    const { pathname } = new URL(feed);
    const text = await (await fetch(`${behind.service.url}${pathname}`)).text();
    expect(text).toContain(`<link rel="self" href="${feed}"/>`);
    await behind.end();
  });
});
