import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { CALLS, type Call } from "@orisma/contract";
import type { NewListing } from "@orisma/client";
import { startTestService, type TestService } from "../../../test/service.js";

/**
 * What no reader may learn, marked so that it is seen wherever it turns up: the values of a column that is not shown,
 * the records that the fixed filter excludes, and what that filter says.
 */
const MARK = /hidden-\d|excluded-\d|1234567\d|sesame/;
const FILE = `work,raised,status,contact,price
W-1,2025-02-10,open,hidden-2,12345672
W-2,2025-02-20,done,hidden-3,12345673
W-3,2025-03-05,open,hidden-1,12345671
excluded-1,2025-02-11,closed,hidden-4,12345674
excluded-2,2024-02-11,sesame,hidden-5,12345675
`;
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  fixedFilter: "status <> 'sesame' AND work NOT LIKE 'excluded%'",
  describeFixedFilter: false,
  columns: ["work", "raised", "status"],
  parameters: [
    { name: "on", column: "raised", type: "window", comparison: "on" },
    { name: "status", column: "status", type: "several", comparison: "among" },
  ],
  filter: { columns: "all" },
  order: { allowed: ["raised", "work"], default: "raised" },
  feed: { title: "{work}" },
  resume: true,
  editable: ["status"],
  actions: { mark: { set: { contact: "hidden-9", status: "open" } } },
  allow: { edit: "reader", act: "reader" },
};
/** What may be sent beside nothing, to find out more. */
const SENT = [
  "",
  "columns=contact",
  "columns=price",
  "order=contact",
  "order=price",
  "contact=hidden-1",
  "filter=contact%20%3D%20%27hidden-1%27",
  "filter=work%20LIKE%20%27excluded%25%27",
  "status=sesame",
  "status=..&on=..",
  "by=contact",
  "by=status&measure=sum:price",
  "with=why,unfiltered,extent,days,clauses,display&status=nothing",
  "search=e&limit=100",
  "total=all&with=unfiltered",
  "asOf=2024-02-11&on=month",
  "format=csv",
  "resume=start",
  "resume=start&filter=contact%20%3D%20%27hidden-1%27",
  "cursor=AAAA",
];

let running: TestService;
let requests = 0;
const keys: Record<string, string | null> = { nobody: null };

beforeAll(async () => {
  running = await startTestService({
    now: () => Date.UTC(2025, 2, 14),
    // Each request comes from an address of its own, so that none is refused for their number.
    settings: { trustedProxies: ["127.0.0.1"] },
  });
  const { client } = running;
  const reading = { kind: "date", encoding: "text", patterns: ["yyyy-MM-dd"] } as const;
  await client.createSource({
    name: "works",
    key: "work",
    columns: { raised: { type: "date", reading }, price: { type: "integer" } },
  });
  await client.importFile("works", FILE);
  await client.declareListing("closed", LISTING);
  await client.declareListing("open", { ...LISTING, public: true });
  await client.declareListing("other", LISTING);
  // A history with cells that are not shown.
  for (const name of ["closed", "open", "other"]) {
    await client.act(name, "mark", { ids: ["W-2"] });
    await client.editRecord(name, "W-2", { status: "done" }, { etag: "*" });
  }
  await client.repairCell("works", { id: "W-1", column: "contact", value: "hidden-1" });
  for (const listing of ["closed", "other"]) {
    const made = await client.createKey({ name: listing, role: "reader", listings: [listing] });
    keys[`reader of ${listing}`] = made.key;
  }
  keys["reader of all"] = (await client.createKey({ name: "all", role: "reader" })).key;
});
afterAll(() => running.end());

/** Every call about a listing, with each of its places filled. */
function addresses(): readonly { readonly method: string; readonly path: string }[] {
  return Object.entries(CALLS as Readonly<Record<string, Call>>).flatMap(([name]) => {
    const [method = "", path = ""] = name.split(" ");
    if (!path.includes("/listings/{name}") && path !== "/public/{name}") return [];
    // What changes or deletes a listing is for other roles, which the tests of roles try.
    if (method === "DELETE" || method === "PUT" || path.endsWith("/rename")) return [];
    const filled = ["W-1", "excluded-1"].flatMap((id) =>
      ["status", "contact", "price", "work"].map((column) =>
        path
          .replace("{id}", id)
          .replace("{column}", column)
          .replace("{version}", "1")
          .replace("{action}", "mark")
          .replace("{number}", "1")
          .replace("{parameter}", "status"),
      ),
    );
    return [...new Set(filled)].map((each) => ({ method, path: each }));
  });
}

/** Bodies of calls that have one: the same attempts. */
const BODIES = [
  {},
  { parameters: { status: "sesame" } },
  { filter: "contact = 'hidden-1'" },
  { requests: [{ filter: "work LIKE 'excluded%'" }, {}] },
  { before: {}, after: { columns: "contact" } },
  { name: "mine", parameters: {} },
  { values: { status: "open" } },
  { values: { contact: "x" } },
  { dryRun: true },
  { ids: ["excluded-1"] },
  { ids: ["W-1"] },
];

describe.each(["nobody", "reader of closed", "reader of other", "reader of all"])("%s", (who) => {
  test.each(["open", "closed", "other"])(
    "learns nothing beside the records of %s",
    async (listing) => {
      const { url } = running.service;
      const key = keys[who] ?? null;
      const mayRead = listing === "open" || who.endsWith(listing) || who === "reader of all";
      let answered = 0;
      for (const { method, path } of addresses()) {
        const attempts =
          method === "GET"
            ? SENT.map((query) => ({ query, body: null }))
            : BODIES.map((body) => ({ query: "", body }));
        for (const { query, body } of attempts) {
          const address = `${path.replace("{name}", listing)}${query === "" ? "" : `?${query}`}`;
          const answer = await fetch(`${url}${address}`, {
            method,
            headers: {
              "X-Forwarded-For": `10.0.${(++requests >> 8) & 255}.${requests & 255}`,
              ...(key === null ? {} : { Authorization: `Bearer ${key}` }),
              ...(body === null ? {} : { "Content-Type": "application/json", "If-Match": "*" }),
            },
            ...(body === null ? {} : { body: JSON.stringify(body) }),
          });
          const text = Buffer.from(await answer.arrayBuffer()).toString("latin1");
          // What was sent may come back, since whoever sent it knows it.
          const returned = withoutSent(text, address, body);
          expect([method, address, answer.status, MARK.exec(returned)?.[0]]).toEqual([
            method,
            address,
            answer.status,
            undefined,
          ]);
          expect([method, address, answer.status < 500 || answer.status === 503]).toEqual([
            method,
            address,
            true,
          ]);
          if (answer.ok) answered++;
          expect([address, orderIn(text)]).toEqual([address, expect.stringMatching(SHOWN_ORDERS)]);
          const isExcluded = path.endsWith("/records/excluded-1");
          if (!mayRead || isExcluded) expect([address, answer.ok]).toEqual([address, false]);
        }
      }
      expect(answered > 0).toBe(mayRead);
    },
  );
});

/** The orders of all three records by columns that are shown: by those that are not they would be others. */
const SHOWN_ORDERS = /^(?:123|321|.{0,2})$/;

/** The numbers of the records of an answer, in their order. */
function orderIn(text: string): string {
  const found = [...text.matchAll(/"id":"W-(\d)"/g)].map(([, number]) => number);
  return found.length > 3 ? "" : found.join("");
}

describe("what is not shown", () => {
  test("changes no answer when it changes, nor how long or under which tag it may be held", async () => {
    const { client, service } = running;
    const held = async () => {
      const answers: (readonly string[])[] = [];
      for (const { method, path } of addresses()) {
        // A history says that there was an edit, feeds count the states of the whole source, workbooks
        // have the time at which they were made.
        if (method !== "GET" || /\/edits|\.(?:ics|atom|xlsx)$/.test(path)) continue;
        const answer = await fetch(`${service.url}${path.replace("{name}", "open")}`, {
          headers: {
            Authorization: `Bearer ${keys["reader of all"] ?? ""}`,
            "X-Forwarded-For": `10.1.${(++requests >> 8) & 255}.${requests & 255}`,
          },
        });
        const text = answer.ok ? (await answer.text()).replace(/"readAt":"[^"]*"/, "") : "";
        const { headers } = answer;
        const tags = ["ETag", "Cache-Control", "Last-Modified", "Content-Length"];
        answers.push([path, text, ...tags.map((name) => headers.get(name) ?? "")]);
      }
      return answers;
    };
    const before = await held();
    expect(before.length).toBeGreaterThan(20);
    await client.repairCell("works", { id: "W-3", column: "contact", value: "hidden-8" });
    await client.repairCell("works", { id: "excluded-1", column: "status", value: "open" });
    const after = await held();
    expect(after).toEqual(before);
    // What is shown does change them.
    await client.repairCell("works", { id: "W-3", column: "status", value: "held" });
    expect(await held()).not.toEqual(before);
  });
});

function withoutSent(text: string, address: string, body: unknown): string {
  const sent = decodeURIComponent(address) + JSON.stringify(body ?? "");
  return text.replace(/hidden-\d|excluded-\d|1234567\d|sesame|excluded/g, (each) =>
    sent.includes(each) ? "" : each,
  );
}
