import type { AddressInfo } from "node:net";
import { describe, expect, test } from "@jest/globals";
import express from "express";
import { pino } from "pino";
import { Admission, type AdmittedCall, type CostClass } from "../src/admission/index.js";
import { Problem, answerFailures } from "../src/http/index.js";
import { until } from "../../../test/until.js";

const LIMITS = {
  page: { running: 2, waiting: 100, waitingOfCaller: 40, waitMs: 60_000 },
  heavy: { running: 1, waiting: 8, waitingOfCaller: 5, waitMs: 60_000 },
  export: { running: 1, waiting: 8, waitingOfCaller: 5, waitMs: 50 },
};

/** Calls whose work ends when the test says so, in the order in which they began. */
function held() {
  const admission = new Admission(LIMITS);
  const begun: string[] = [];
  const running = new Map<string, () => void>();
  const never = new AbortController().signal;
  const send = (
    id: string,
    call: Partial<AdmittedCall> & { readonly kind: CostClass },
    signal = never,
  ): Promise<string> =>
    admission.run({ caller: "a", listing: "works", costKey: id, ...call }, signal, async () => {
      begun.push(id);
      await new Promise<void>((resolve) => running.set(id, resolve));
      running.delete(id);
      return id;
    });
  const end = async (id: string) => {
    running.get(id)?.();
    await new Promise((resolve) => setImmediate(resolve));
  };
  return { admission, begun, send, end };
}

/** Lets what is due begin. */
const begin = () => new Promise((resolve) => setImmediate(resolve));

async function problemOf(work: Promise<unknown>): Promise<[string, string | undefined]> {
  const error = await work.then(
    () => null,
    (failure: unknown) => failure,
  );
  if (!(error instanceof Problem)) throw new Error(`no problem: ${String(error)}`);
  return [error.problem, error.headers["Retry-After"]];
}

describe("admission", () => {
  test("a page runs beside heavy calls, however many of these wait", async () => {
    const { begun, send, end } = held();
    const heavy = ["h1", "h2", "h3"].map((id) => send(id, { kind: "heavy" }));
    const page = send("p", { kind: "page", caller: "b" });
    await begin();
    expect(begun).toEqual(["h1", "p"]);
    await end("p");
    expect(await page).toBe("p");
    for (const id of ["h1", "h2", "h3"]) await end(id);
    expect(await Promise.all(heavy)).toEqual(["h1", "h2", "h3"]);
  });

  test("callers take turns: one that sends many keeps out nobody", async () => {
    const { begun, send, end } = held();
    const all = ["a1", "a2", "a3", "a4"].map((id) => send(id, { kind: "heavy", caller: "a" }));
    all.push(
      send("b1", { kind: "heavy", caller: "b" }),
      send("c1", { kind: "heavy", caller: "c" }),
    );
    await begin();
    for (let next = 0; next < 6; next++) await end(begun[next] ?? "");
    await Promise.all(all);
    expect(begun).toEqual(["a1", "a2", "b1", "c1", "a3", "a4"]);
  });

  test("beyond its share a caller is refused with 429 and when to try again, others are not", async () => {
    const { admission, send, end, begun } = held();
    const mine = ["a0", "a1", "a2", "a3", "a4", "a5"].map((id) => send(id, { kind: "heavy" }));
    expect(await problemOf(send("a6", { kind: "heavy" }))).toEqual([
      "too-many-requests",
      expect.stringMatching(/^\d+$/),
    ]);
    const others = ["b1", "b2", "b3"].map((id) => send(id, { kind: "heavy", caller: "b" }));
    // Eight wait by now, which is all that may.
    const [problem] = await problemOf(send("c1", { kind: "heavy", caller: "c" }));
    expect(problem).toBe("overloaded");
    expect(admission.counts()).toContainEqual({ class: "heavy", running: 1, waiting: 8 });
    await begin();
    for (let next = 0; next < 9; next++) await end(begun[next] ?? "");
    await Promise.all([...mine, ...others]);
    expect(admission.counts()).toContainEqual({ class: "heavy", running: 0, waiting: 0 });
  });

  test("each that finds no room is told to come when those before it have had their turn", async () => {
    const { send, end, begun } = held();
    const waiting = Array.from({ length: 9 }, (_, at) =>
      send(`w${at}`, { kind: "heavy", caller: `c${at}` }),
    );
    const told: number[] = [];
    for (let at = 0; at < 40; at++) {
      const [, retryAfter] = await problemOf(send(`x${at}`, { kind: "heavy", caller: `x${at}` }));
      told.push(Number(retryAfter));
    }
    expect(told).toEqual([...told].sort((a, b) => a - b));
    expect(told.at(-1)).toBeGreaterThan(told[0] ?? 0);
    await begin();
    for (let next = 0; next < 9; next++) await end(begun[next] ?? "");
    await Promise.all(waiting);
  });

  test("what waits too long is refused with 503, and gives its place in the queue back", async () => {
    const { admission, send, end } = held();
    const first = send("e1", { kind: "export" });
    expect((await problemOf(send("e2", { kind: "export" })))[0]).toBe("overloaded");
    expect(admission.counts()).toContainEqual({ class: "export", running: 1, waiting: 0 });
    await end("e1");
    expect(await first).toBe("e1");
  });

  test("a call whose client has gone waits no longer, and is never run", async () => {
    const { begun, send, end } = held();
    const first = send("h1", { kind: "heavy" });
    const gone = new AbortController();
    const waiting = send("h2", { kind: "heavy" }, gone.signal);
    gone.abort(new Error("gone"));
    await expect(waiting).rejects.toThrow("gone");
    const last = send("h3", { kind: "heavy" });
    await end("h1");
    await end("h3");
    expect(await Promise.all([first, last])).toEqual(["h1", "h3"]);
    expect(begun).toEqual(["h1", "h3"]);
  });

  test("a call whose client has gone before it came to wait does not wait", async () => {
    const { admission, begun, send, end } = held();
    const first = send("h1", { kind: "heavy" });
    await expect(
      send("h2", { kind: "heavy" }, AbortSignal.abort(new Error("gone"))),
    ).rejects.toThrow("gone");
    expect(admission.counts()).toContainEqual({ class: "heavy", running: 1, waiting: 0 });
    await end("h1");
    await first;
    expect(begun).toEqual(["h1"]);
  });

  test("a listing may have fewer calls at once than there is room for", async () => {
    const { begun, send, end } = held();
    const one = send("p1", { kind: "page", maxOfListing: 1 });
    const two = send("p2", { kind: "page", maxOfListing: 1 });
    const other = send("q1", { kind: "page", listing: "tolls" });
    await begin();
    expect(begun).toEqual(["p1", "q1"]);
    await end("p1");
    expect(begun).toEqual(["p1", "q1", "p2"]);
    await end("p2");
    await end("q1");
    expect(await Promise.all([one, two, other])).toEqual(["p1", "p2", "q1"]);
  });

  test("a page that lately took long waits with the heavy calls, a quick summary runs with the pages", async () => {
    const admission = new Admission(LIMITS);
    const signal = new AbortController().signal;
    const call = (kind: CostClass, costKey: string) => ({
      kind,
      costKey,
      caller: "a",
      listing: "w",
    });
    const slow = () => new Promise<void>((resolve) => setTimeout(resolve, 450));
    await Promise.all(
      Array.from({ length: 4 }, () => admission.run(call("page", "slow"), signal, slow)),
    );
    await admission.run(call("page", "once"), signal, slow);
    await admission.run(call("page", "fast"), signal, () => Promise.resolve());
    await admission.run(call("heavy", "quick"), signal, () => Promise.resolve());
    const during = (kind: CostClass, key: string) =>
      admission.run(call(kind, key), signal, () => Promise.resolve(admission.counts()));
    expect(await during("page", "once")).toContainEqual({ class: "page", running: 1, waiting: 0 });
    expect(await during("page", "slow")).toContainEqual({ class: "heavy", running: 1, waiting: 0 });
    expect(await during("heavy", "quick")).toContainEqual({
      class: "page",
      running: 1,
      waiting: 0,
    });
    expect(await during("export", "quick")).toContainEqual({
      class: "export",
      running: 1,
      waiting: 0,
    });
  });

  test("a failure of the work gives the place back", async () => {
    const admission = new Admission(LIMITS);
    const signal = new AbortController().signal;
    const call = { kind: "heavy", costKey: "x", caller: "a", listing: "w" } as const;
    const failing = admission.run(call, signal, () => Promise.reject(new Error("no")));
    await expect(failing).rejects.toThrow("no");
    expect(admission.counts()).toContainEqual({ class: "heavy", running: 0, waiting: 0 });
  });
});

test("what a caller has too much of is turned away before it comes any further, and nothing else", async () => {
  const admission = new Admission(LIMITS);
  const app = express();
  const reached: string[] = [];
  const ends: (() => void)[] = [];
  app.use(admission.turnAway);
  app.use((request, response, next) => {
    const caller = request.get("Authorization") ?? "";
    const { path } = request;
    reached.push(`${caller} ${path}`);
    const call = {
      kind: "heavy",
      caller,
      credentials: caller,
      path,
      listing: "w",
      costKey: path,
    } as const;
    const work = () => new Promise<void>((resolve) => ends.push(resolve));
    admission.run(call, new AbortController().signal, work).then(() => response.end(), next);
  });
  app.use(answerFailures(pino({ enabled: false })));
  const server = app.listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  const { port } = server.address() as AddressInfo;
  const ask = (caller: string, path: string) =>
    fetch(`http://127.0.0.1:${port}${path}`, { headers: { Authorization: caller } });
  const come = (calls: number) => until(() => reached.length >= calls);
  // One runs, five wait, which is the share of a caller.
  const held = [1, 2, 3, 4, 5, 6].map(() => ask("a", "/figures"));
  await come(6);
  expect((await ask("a", "/figures?first")).status).toBe(429);
  expect(reached).toHaveLength(7);
  const again = await ask("a", "/figures?again");
  expect([again.status, Number(again.headers.get("Retry-After")) > 0]).toEqual([429, true]);
  expect(reached).toHaveLength(7);
  held.push(ask("b", "/figures"), ask("b", "/figures"));
  await come(9);
  // Another path of the caller's comes as far as the pool.
  expect((await ask("a", "/others")).status).toBe(429);
  expect(reached.at(-1)).toBe("a /others");
  await until(() => {
    ends.shift()?.();
    return admission.counts().every(({ running }) => running === 0);
  });
  const answers = await Promise.all(held);
  expect(answers.map(({ status }) => status)).toEqual(held.map(() => 200));
  // There is room again.
  const last = ask("a", "/figures");
  await come(11);
  await until(() => ends.length > 0);
  ends.shift()?.();
  expect((await last).status).toBe(200);
  server.close();
});
