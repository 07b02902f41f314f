import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import fc from "fast-check";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let running: TestService;
const DATE = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
const WORKS: NewListing = {
  source: "works",
  mainDate: "raised",
  parameters: [
    { name: "status", column: "status", type: "several", comparison: "among" },
    { name: "raised", column: "raised", type: "window", comparison: "on" },
  ],
  editable: ["status", "note"],
  resume: true,
};
const HEADINGS = "work,raised,status,note";
/** Six records, all but the last of one day. */
const LINES = [1, 2, 3, 4, 5, 6].map(
  (each) => `W-${each},2025-02-0${each === 6 ? 2 : 1},${each % 2 === 0 ? "open" : "done"},n${each}`,
);
const file = (lines: readonly string[]) => [HEADINGS, ...lines].join("\n");

beforeAll(async () => {
  running = await startTestService();
});
afterAll(() => running.end());

/** A source and a listing of a test's own, with six records. */
async function works(name: string, listing: Partial<NewListing> = {}, key: string | null = "work") {
  const { client } = running;
  await client.createSource({ name, ...(key === null ? {} : { key }), columns: { raised: DATE } });
  await client.importFile(name, file(LINES));
  await client.declareListing(name, { ...WORKS, source: name, ...listing });
  return name;
}

/** What a program has read: the token that it goes on with, and the ids as they came. */
async function readOn(
  listing: string,
  token: string,
  query: Record<string, string> = {},
): Promise<{ readonly token: string; readonly ids: string; readonly notes: readonly string[] }> {
  let resume = token;
  const found: { readonly id: unknown; readonly note?: unknown }[] = [];
  for (;;) {
    const { records, meta } = await running.client.records(listing, { ...query, resume });
    found.push(...records);
    if (meta.resume === undefined) throw new Error("no place to resume from");
    resume = meta.resume.token;
    if (!meta.resume.hasMore) break;
  }
  return {
    token: resume,
    ids: found.map(({ id }) => String(id)).join(" "),
    notes: found.map(({ id, note }) => `${String(id)} ${String(note)}`),
  };
}

async function edit(listing: string, id: string, values: Record<string, string>): Promise<void> {
  const { etag } = await running.client.recordToEdit(listing, id);
  await running.client.editRecord(listing, id, values, { etag });
}

describe("a program that picks up where it stopped", () => {
  test("gets all records first, then those that were added or changed, each once", async () => {
    const name = await works("pages");
    const all = await readOn(name, "start", { size: "2" });
    expect(all.ids).toBe("W-1 W-2 W-3 W-4 W-5 W-6");
    expect((await readOn(name, all.token, { size: "2" })).ids).toBe("");
    await edit(name, "W-4", { note: "greased" });
    await edit(name, "W-2", { note: "mended" });
    const edited = await readOn(name, all.token, { size: "1" });
    expect(edited.notes).toEqual(["W-4 greased", "W-2 mended"]);
    // Whoever asks again with the token from before gets the same again.
    expect((await readOn(name, all.token)).notes).toEqual(edited.notes);
    // What is changed twice is one change for who was not here meanwhile.
    await edit(name, "W-4", { note: "once more" });
    await edit(name, "W-4", { note: "and again" });
    expect((await readOn(name, edited.token)).notes).toEqual(["W-4 and again"]);
    expect((await readOn(name, all.token)).notes).toEqual(["W-2 mended", "W-4 and again"]);
  });

  test("gets those of a file that are new or other, however early their dates and in every mode", async () => {
    const name = await works("files");
    const { token } = await readOn(name, "start");
    const changed = LINES.map((line) => line.replace("n3", "other"));
    await running.client.importFile(name, file([...changed, "W-0,1999-01-01,open,late"]));
    const replaced = await readOn(name, token);
    expect(replaced.notes).toEqual(["W-0 late", "W-3 other"]);
    const updates = ["W-1,2025-02-01,done,n1", "W-5,2025-02-01,open,n5", "W-9,2025-02-01,open,new"];
    await running.client.importFile(name, file(updates), { mode: "update" });
    const updated = await readOn(name, replaced.token);
    expect(updated.ids).toBe("W-5 W-9");
    // A letter in another case is another cell.
    await running.client.importFile(name, file(["W-5,2025-02-01,Open,n5"]), { mode: "update" });
    const cased = await readOn(name, updated.token);
    expect(cased.ids).toBe("W-5");
    await running.client.restoreRecords(name);
    expect((await readOn(name, cased.token)).ids).toBe("W-5");
  });

  test("gets what comes into the listing by a change, and nothing that is not in it", async () => {
    const name = await works("some", { fixedFilter: "note <> 'n6'" });
    const first = await readOn(name, "start", { status: "open" });
    expect(first.ids).toBe("W-2 W-4");
    await edit(name, "W-1", { status: "open" });
    await edit(name, "W-2", { status: "done" });
    await edit(name, "W-3", { note: "still done" });
    expect((await readOn(name, first.token, { status: "open" })).ids).toBe("W-1");
  });

  test("reads records without a key until these are replaced, and then is told to start again", async () => {
    const name = await works("keyless", {}, null);
    const { token, ids } = await readOn(name, "start");
    expect(ids).toBe("1 2 3 4 5 6");
    await running.client.importFile(name, file(["W-7,2025-03-01,open,n7"]), { mode: "append" });
    const { token: next, ids: added } = await readOn(name, token);
    expect(added).toBe("7");
    await running.client.importFile(name, file(LINES.slice(1)));
    expect(await refusal(running.client.records(name, { resume: next }))).toMatchObject({
      status: 422,
      faults: [
        { parameter: "resume", code: "resume.ended", accepted: expect.stringMatching("start") },
      ],
    });
    expect((await readOn(name, "start")).ids).toBe("1 2 3 4 5");
  });

  test("is refused what would leave records out, or gives them another order", async () => {
    const name = await works("refused");
    const { token } = await readOn(name, "start");
    const faultsOf = async (query: Record<string, string>, listing = name) => {
      const problem = await refusal(running.client.records(listing, query));
      return problem?.faults.map(({ parameter, code }) => `${parameter ?? ""} ${code}`);
    };
    expect(await faultsOf({ resume: token, status: "open" })).toEqual(["resume resume.ended"]);
    expect(await faultsOf({ resume: "start", raised: "month-1/now" })).toEqual([
      "resume resume.moving",
    ]);
    expect(await faultsOf({ resume: "start", order: "raised", total: "exact" })).toEqual([
      "order resume.beside",
      "total resume.beside",
    ]);
    expect(await faultsOf({ resume: "start", format: "csv", with: "extent" })).toEqual([
      "format resume.beside",
      "with resume.beside",
    ]);
    expect(await faultsOf({ resume: "yesterday" })).toEqual(["resume resume.unreadable"]);
    await running.client.declareListing("other", {
      ...WORKS,
      source: name,
      fixedFilter: "note <> 'n1'",
    });
    expect(await faultsOf({ resume: token }, "other")).toEqual(["resume resume.ended"]);
    const { resume: _, ...plain } = WORKS;
    await running.client.declareListing("plain", { ...plain, source: name });
    expect(await faultsOf({ resume: "start" }, "plain")).toEqual(["resume parameter.notAllowed"]);
  });

  test("is followed by its links in a query in a body too, and is refused where nothing says where to go on", async () => {
    const name = await works("places");
    const { url, key } = running.service;
    const headers = { Authorization: `Bearer ${key}`, "Content-Type": "application/json" };
    const ids: unknown[] = [];
    let next: string | undefined = `/v1/listings/${name}/records/query`;
    for (let pages = 0; next !== undefined && pages < 9; pages++) {
      const body = JSON.stringify({ resume: "start", size: "2" });
      const answer = await fetch(`${url}${next}`, { method: "POST", headers, body });
      const page = (await answer.json()) as {
        records: { id: unknown }[];
        links: { next?: string };
      };
      ids.push(...page.records.map(({ id }) => id));
      next = page.links.next;
    }
    expect(ids).toEqual(["W-1", "W-2", "W-3", "W-4", "W-5", "W-6"]);
    const statusOf = async (path: string, accept = "*/*") =>
      (
        await fetch(`${url}/v1/listings/${name}/${path}`, {
          headers: { ...headers, Accept: accept },
        })
      ).status;
    expect(await statusOf("records.csv?resume=start")).toBe(422);
    expect(await statusOf("records.ndjson?resume=start")).toBe(422);
    expect(await statusOf("records?resume=start", "text/csv")).toBe(422);
    expect(await statusOf("records?resume=start&format=json")).toBe(200);
    expect(await statusOf("records.csv")).toBe(200);
    const endpoint = { path: "/api/places", answer: { records: "items" } };
    await running.client.declareListing("own-places", { ...WORKS, source: name, endpoint });
    const own = async (query: string) =>
      (await fetch(`${url}/api/places${query}`, { headers })).status;
    expect([await own(""), await own("?resume=start")]).toEqual([200, 422]);
  });

  test("misses nothing and gets nothing twice while others write", async () => {
    const step = fc.record({
      writes: fc.array(fc.record({ id: fc.integer({ min: 1, max: 6 }), isFile: fc.boolean() }), {
        maxLength: 4,
      }),
      size: fc.integer({ min: 1, max: 3 }),
    });
    let runs = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 6 }), async (steps) => {
        const name = await works(`writers${runs++}`);
        let counter = 0;
        let resume = "start";
        const seen: string[] = [];
        const copy = new Map<string, unknown>();
        const readPage = async (size: number) => {
          const { records, meta } = await running.client.records(name, {
            resume,
            size: String(size),
          });
          for (const { id, note } of records) {
            seen.push(`${String(id)} ${String(note)}`);
            copy.set(String(id), note);
          }
          resume = meta.resume?.token ?? "";
          return meta.resume?.hasMore === true;
        };
        const write = async ({ id, isFile }: { id: number; isFile: boolean }) => {
          const note = `written ${++counter}`;
          // What collides with another is refused as a whole, and is none.
          const written = isFile
            ? running.client.importFile(name, file([`W-${id},1990-01-01,open,${note}`]), {
                mode: "update",
                edits: "overwrite",
              })
            : edit(name, `W-${id}`, { note });
          await written.catch(() => undefined);
        };
        for (const { writes, size } of steps) {
          await Promise.all([...writes.map(write), readPage(size).then(() => readPage(size))]);
        }
        while (await readPage(2));
        const { records } = await running.client.records(name, { size: "50" });
        expect([...copy].sort()).toEqual(records.map(({ id, note }) => [String(id), note]).sort());
        expect(seen.length).toBe(new Set(seen).size);
      }),
      { numRuns: 5 },
    );
  });
});
