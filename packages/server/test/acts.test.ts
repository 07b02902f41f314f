import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaError, type NewColumn, type OrismaClient } from "@orisma/client";
import fc from "fast-check";
import { startTestService, type TestService } from "../../../test/service.js";

/** Random acts on a source, with requests and cursors in between, against a model in memory. */
const RUNS = 14;
const SEED = 20_261_129;
const PAGE = 3;

let running: TestService;

beforeAll(async () => {
  running = await startTestService();
});
afterAll(() => running.end());

type Order = "dayFirst" | "monthFirst";
const PATTERNS: Readonly<Record<Order, string>> = {
  dayFirst: "dd/MM/yyyy",
  monthFirst: "MM/dd/yyyy",
};

/** Strings of a day: readable either way, one way only, blank, spelled as blank, and no date. */
const TEXTS = ["03/04/2025", "04/03/2025", "25/12/2025", "12/25/2025", "", "tbc", "soon"] as const;

interface Entry {
  readonly day: string;
  readonly cost: number;
}

/** What the records must be. */
interface State {
  readonly records: ReadonlyMap<string, Entry>;
  readonly order: Order;
  /** Counts what gave the records their ids, where they have no key. */
  readonly ids: number;
}

interface Model {
  readonly isKeyed: boolean;
  state: State | null;
  before: State | null;
  version: number;
  /** Numbers given to records without a key so far, in the table that there is. */
  cursors: readonly HeldCursor[];
}

/** A link to a page, and the place behind which it goes on. */
interface HeldCursor {
  readonly link: string;
  readonly day: string | null;
  readonly id: string;
  readonly version: number;
  readonly ids: number;
}

const NAME = "acts";

/** What became of repairs that came while a file was imported. */
const statuses = new Set<number>();

function columnOf(order: Order): NewColumn {
  const patterns = [PATTERNS[order]];
  return { type: "date", reading: { kind: "date", encoding: "text", patterns, blanks: ["tbc"] } };
}

/** The day that a text is under a reading, or null. */
function dayOf(text: string, order: Order): string | null {
  const [first = "", second = "", year = ""] = text.split("/");
  const [day, month] = order === "dayFirst" ? [first, second] : [second, first];
  return year !== "" && Number(month) <= 12 ? `${year}-${month}-${day}` : null;
}

/** The records in the order of the listing: without a date first, then by day, then by id. */
function inOrder({ records, order }: State) {
  return [...records]
    .map(([id, { day, cost }]) => ({ id, day: dayOf(day, order), cost }))
    .sort((a, b) => comparePlaces(a, b));
}

interface Place {
  readonly id: string;
  readonly day: string | null;
}

function comparePlaces(a: Place, b: Place): number {
  const [first, second] = [a.day ?? "", b.day ?? ""];
  if (first !== second) return first < second ? -1 : 1;
  return a.id < b.id ? -1 : a.id > b.id ? 1 : 0;
}

type Shown = readonly { readonly id: string; readonly day: string | null; readonly cost: number }[];

type RecordsPage = Awaited<ReturnType<OrismaClient["records"]>>;

function shown({ records }: RecordsPage): Shown {
  return records.map(({ id, day, cost }) => ({
    id: String(id).padStart(6, "0"),
    day: (day ?? null) as string | null,
    cost: Number(cost),
  }));
}

const all = async () => shown(await running.client.records(NAME, { size: "100", total: "exact" }));
const expected = (state: State | null): Shown => (state === null ? [] : inOrder(state));

/** Does an act while somebody reads, who must see the records as they were before or after it. */
async function whileRead(model: Model, act: () => Promise<State | null>): Promise<void> {
  const { state } = model;
  const done = new AbortController();
  const seen: Shown[] = [];
  const reading = (async () => {
    while (!done.signal.aborted && state !== null) seen.push(await all());
  })();
  let after: State | null;
  try {
    after = await act();
  } finally {
    done.abort();
    await reading;
  }
  const possible = [expected(state), expected(after)].map((each) => JSON.stringify(each));
  for (const each of seen) expect(possible).toContain(JSON.stringify(each));
  model.state = after;
}

type Row = readonly [number: number, text: (typeof TEXTS)[number], cost: number];

function fileOf(rows: readonly Row[], isKeyed: boolean): string {
  const heading = isKeyed ? "order,day,cost" : "day,cost";
  const lines = rows.map(([number, day, cost]) =>
    isKeyed ? `${keyOf(number)},${day},${cost}` : `${day},${cost}`,
  );
  return [heading, ...lines, ""].join("\n");
}

const keyOf = (number: number) => String(number).padStart(6, "0");

/** The records with a file beside them: a key that is there already keeps what it has. */
function appended(records: ReadonlyMap<string, Entry>, rows: readonly Row[], isKeyed: boolean) {
  const found = new Map(records);
  for (const [number, day, cost] of rows) {
    const id = isKeyed ? keyOf(number) : keyOf(found.size + 1);
    if (!found.has(id)) found.set(id, { day, cost });
  }
  return found;
}

/** A problem's status; 0 for what was done. */
async function statusOf(work: Promise<unknown>): Promise<number> {
  return work.then(
    () => 0,
    (error: unknown) => {
      if (error instanceof OrismaError) return error.status;
      throw error;
    },
  );
}

type Act = (model: Model) => Promise<void>;

const rows = fc.uniqueArray(
  fc.tuple(fc.integer({ min: 1, max: 12 }), fc.constantFrom(...TEXTS), fc.integer({ max: 99 })),
  { minLength: 1, maxLength: 8, selector: ([number]) => number },
);
const repair = fc.record({
  number: fc.integer({ min: 1, max: 12 }),
  text: fc.constantFrom(...TEXTS),
});

const importing =
  (mode: "replace" | "append" | "update", sent: readonly Row[]): Act =>
  async (model) => {
    const { isKeyed, state } = model;
    const file = fileOf(sent, isKeyed);
    const before = state;
    if (mode === "update" && !isKeyed) {
      expect(await statusOf(running.client.importFile(NAME, file, { mode }))).toBe(422);
      return;
    }
    // Every row's key may be that of another record: then nothing can be taken.
    const isFresh = mode === "replace" || state === null;
    const stored = isFresh ? new Map<string, Entry>() : state.records;
    const isRefused =
      mode === "append" && isKeyed && sent.every(([number]) => stored.has(keyOf(number)));
    await whileRead(model, async () => {
      const status = await statusOf(running.client.importFile(NAME, file, { mode, again: true }));
      if (isRefused) {
        expect(status).toBe(422);
        return state;
      }
      expect(status).toBe(0);
      const records =
        mode === "update" && !isFresh
          ? new Map([
              ...stored,
              ...sent.map(([number, day, cost]) => [keyOf(number), { day, cost }] as const),
            ])
          : appended(stored, sent, isKeyed);
      const ids = isFresh ? (state?.ids ?? 0) + (model.before?.ids ?? 0) + 1 : state.ids;
      model.before = before;
      return { records, order: state?.order ?? "dayFirst", ids };
    });
  };

/** Repairs that come while a file is taken: each is there in the end, or was refused. */
const repairedMeanwhile =
  (sent: readonly Row[], text: number): Act =>
  async (model) => {
    const { state, isKeyed } = model;
    if (state === null || !isKeyed) return;
    const isRefused = sent.every(([each]) => state.records.has(keyOf(each)));
    const done = new AbortController();
    const taking = statusOf(
      running.client.importFile(NAME, fileOf(sent, true), { mode: "append", again: true }),
    ).finally(() => done.abort());
    const repaired = new Map(state.records);
    const ids = [...repaired.keys()];
    for (let turn = 0; turn < ids.length || !done.signal.aborted; turn++) {
      const id = ids[turn % ids.length] ?? "";
      const day = TEXTS[(turn + text) % TEXTS.length] ?? "";
      const status = await statusOf(
        running.client.repairCell(NAME, { id, column: "day", value: day }),
      );
      statuses.add(status);
      const entry = repaired.get(id);
      if (status === 0 && entry !== undefined) repaired.set(id, { ...entry, day });
    }
    expect(await taking).toBe(isRefused ? 422 : 0);
    model.state = { ...state, records: isRefused ? repaired : appended(repaired, sent, true) };
    // Which of them came before the file is not known here: another file makes it plain.
    if (!isRefused) {
      const { state: now } = model;
      await running.client.setReadings(NAME, { day: columnOf(now.order) });
      await importing("update", sent.slice(0, 1))(model);
      model.before = now;
    }
  };

const repairing =
  ({ number, text }: { number: number; text: string }): Act =>
  async (model) => {
    const { state } = model;
    const id = keyOf(number);
    const entry = state?.records.get(id);
    const sentId = model.isKeyed ? id : number;
    const status = await statusOf(
      running.client.repairCell(NAME, { id: sentId, column: "day", value: text }),
    );
    if (state === null || entry === undefined) {
      expect(status).toBeGreaterThan(399);
      return;
    }
    expect(status).toBe(0);
    model.state = { ...state, records: new Map(state.records).set(id, { ...entry, day: text }) };
  };

const readingAnew =
  (order: Order): Act =>
  async (model) => {
    const { state } = model;
    if (state === null) return;
    await whileRead(model, async () => {
      await running.client.setReadings(NAME, { day: columnOf(order) });
      return { ...state, order };
    });
  };

const restoring: Act = async (model) => {
  const { before, state } = model;
  if (before === null) {
    expect(await statusOf(running.client.restoreRecords(NAME))).toBe(404);
    return;
  }
  await whileRead(model, async () => {
    await running.client.restoreRecords(NAME);
    model.before = state;
    return before;
  });
};

const declaring: Act = async (model) => {
  model.version++;
  await declare(model.version);
};

const turningPages: Act = async (model) => {
  const { state } = model;
  if (state === null) return;
  const held: HeldCursor[] = [];
  const found = [];
  let page = await running.client.records(NAME, { size: String(PAGE) });
  for (;;) {
    found.push(...shown(page));
    const last = shown(page).at(-1);
    const { next } = page.links;
    if (next === undefined || last === undefined) break;
    held.push({ link: next, day: last.day, id: last.id, version: model.version, ids: state.ids });
    page = await running.client.follow(next);
  }
  expect(found).toEqual(expected(state));
  model.cursors = held;
};

/** Every cursor that is held goes on behind its place, or says why it cannot. */
async function checkCursors({ state, version, isKeyed, cursors }: Model): Promise<void> {
  if (state === null) return;
  for (const cursor of cursors) {
    const isEnded = cursor.version !== version || (!isKeyed && cursor.ids !== state.ids);
    if (isEnded) {
      const error: unknown = await running.client
        .follow(cursor.link)
        .catch((each: unknown) => each);
      expect(error).toMatchObject({ problem: { faults: [{ code: "cursor.ended" }] } });
      continue;
    }
    const beyond = inOrder(state).filter((each) => comparePlaces(each, cursor) > 0);
    expect(shown(await running.client.follow(cursor.link))).toEqual(beyond.slice(0, PAGE));
  }
}

async function declare(version: number): Promise<void> {
  await running.client.declareListing(NAME, {
    source: NAME,
    title: `Acts ${version}`,
    mainDate: "day",
    order: { default: "day" },
    page: { size: 100 },
  });
}

const act: fc.Arbitrary<Act> = fc.oneof(
  { weight: 3, arbitrary: rows.map((each) => importing("replace", each)) },
  { weight: 4, arbitrary: rows.map((each) => importing("append", each)) },
  { weight: 3, arbitrary: rows.map((each) => importing("update", each)) },
  { weight: 4, arbitrary: repair.map(repairing) },
  {
    weight: 3,
    arbitrary: fc
      .tuple(rows, fc.nat(TEXTS.length - 1))
      .map(([file, text]) => repairedMeanwhile(file, text)),
  },
  { weight: 2, arbitrary: fc.constantFrom<Order>("dayFirst", "monthFirst").map(readingAnew) },
  { weight: 2, arbitrary: fc.constant(restoring) },
  { weight: 1, arbitrary: fc.constant(declaring) },
  { weight: 4, arbitrary: fc.constant(turningPages) },
);

describe("random acts on a source", () => {
  test.each([true, false])("leave the records of the model (with a key: %s)", async (isKeyed) => {
    let acts = 0;
    let versions = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(act, { minLength: 6, maxLength: 14, size: "max" }),
        async (list) => {
          await running.client.createSource({
            name: NAME,
            ...(isKeyed ? { key: "order" } : {}),
            columns: { day: columnOf("dayFirst"), cost: { type: "integer" } },
          });
          await running.client.setEditPolicy(NAME, "overwrite");
          // Versions go on where those of the last run ended.
          const first = ++versions;
          const model: Model = { isKeyed, state: null, before: null, version: first, cursors: [] };
          await importing("replace", [
            [1, "03/04/2025", 1],
            [2, "tbc", 2],
          ])(model);
          await declare(first);
          try {
            for (const each of [turningPages, ...list]) {
              await each(model);
              versions = Math.max(versions, model.version);
              expect(await all()).toEqual(expected(model.state));
              await checkCursors(model);
              acts++;
            }
          } finally {
            await running.client.deleteListing(NAME);
            await running.client.deleteSource(NAME);
          }
        },
      ),
      { numRuns: RUNS, seed: SEED, endOnFailure: true },
    );
    expect(acts).toBeGreaterThan(RUNS * 6);
    if (isKeyed) expect([...statuses].sort()).toEqual([0, 409]);
  });
});
