import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { connect as connectTcp, type Socket } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { inspect } from "node:util";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { OrismaError } from "@orisma/client";
import mysql from "mysql2/promise";
import { startOnSmallDisk, type OnSmallDisk } from "../../../test/small-disk.js";
import { until } from "../../../test/until.js";

/** `npm run soak` takes twenty minutes; in the suite it is a tenth of that. */
const SECONDS = Number(process.env.SOAK_SECONDS ?? 120);
const SEED = Number(process.env.SOAK_SEED ?? Date.now() % 1_000_000);
const DISK_MB = 420;
const ROWS = 2_000;
const READERS = 6;
/** Megabytes by which a process may have grown since it was warm. */
const MAX_GROWTH_MB = 150;
/** Handles beyond those of a service at rest. */
const MAX_HANDLES = 60;

const scratch = mkdtempSync(join(tmpdir(), "orisma-soak-"));
// The database may run as another user, who must be able to pass through.
chmodSync(scratch, 0o711);
let small: OnSmallDisk;
beforeAll(async () => {
  small = await startOnSmallDisk(scratch, DISK_MB);
});
afterAll(() => {
  small.child.kill("SIGKILL");
  rmSync(scratch, { recursive: true, force: true });
});

/** Random numbers that a seed repeats (mulberry32). */
function randomFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

interface ModelRecord {
  readonly id: string;
  readonly day: string;
  readonly grade: string;
}

/** The records of a generation: each import puts one in the place of another. */
function generation(number: number): readonly ModelRecord[] {
  const random = randomFrom(number + 1);
  return Array.from({ length: ROWS }, (_, index) => ({
    id: `R${String(index).padStart(5, "0")}`,
    day: dayText(Math.floor(random() * 365)),
    grade: "ABCD"[Math.floor(random() * 4)] ?? "A",
  }));
}

function dayText(day: number): string {
  return new Date(Date.UTC(2025, 0, 1 + day)).toISOString().slice(0, 10);
}

function fileOf(number: number): string {
  const lines = generation(number).map(({ id, day, grade }) => `${id},${day},${grade},${number}`);
  return `id,day,grade,generation\n${lines.join("\n")}\n`;
}

/** What the model says of a window: the ids of its records, the latest first. */
function expectedIds(number: number, from: string, to: string): readonly string[] {
  return generation(number)
    .filter(({ day }) => day >= from && day <= to)
    .sort((a, b) => (a.day === b.day ? (a.id < b.id ? 1 : -1) : a.day < b.day ? 1 : -1))
    .map(({ id }) => id);
}

/** What may happen to a request while something is broken, and nothing else. */
const ALLOWED = new Set([408, 409, 429, 503, 507]);

test(
  "random traffic through faults has no wrong answer, leaks nothing, and is ready in the end",
  async () => {
    const random = randomFrom(SEED);
    const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)] as T;
    const { client, url, key } = small;
    const day = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
    await client.createSource({
      name: "gradings",
      key: "id",
      columns: { day, generation: { type: "integer" } },
    });
    await client.importFile("gradings", fileOf(0), { file: "0.csv" });
    await client.declareListing("gradings", {
      source: "gradings",
      mainDate: "day",
      order: { allowed: ["day", "grade"], default: "-day" },
      page: { size: 20, max: 100 },
    });

    const wrong: string[] = [];
    const counts: Record<string, number> = {};
    const count = (what: string) => (counts[what] = (counts[what] ?? 0) + 1);
    /** Generations that may be served: the last that was surely imported, and those that were tried since. */
    let possible: readonly number[] = [0];
    const ending = new AbortController();
    /** Whether connections may be cut now, and for a moment after. */
    let cutUntil = 0;

    const failed = (what: string, error: unknown) => {
      if (error instanceof OrismaError && ALLOWED.has(error.status)) {
        count(`${what} ${error.status}`);
        return;
      }
      // An export that has begun can only be cut where its database has gone.
      if (performance.now() < cutUntil && !(error instanceof OrismaError && error.status > 0)) {
        count(`${what} cut`);
        return;
      }
      wrong.push(`${what}: ${inspect(error, { depth: 2 })}`);
    };

    const window = () => {
      const first = Math.floor(random() * 365);
      return { from: dayText(first), to: dayText(first + Math.floor(random() * 60)) };
    };
    const read = {
      async page() {
        const asked = window();
        const before = possible;
        const { records, meta } = await client.records("gradings", asked);
        const after = [...new Set([...before, ...possible])];
        const ids = records.map(({ id }) => String(id));
        const fits = after.some((number) => {
          const all = expectedIds(number, asked.from, asked.to);
          return meta.total === all.length && ids.join() === all.slice(0, 20).join();
        });
        if (!fits && meta.total !== null) {
          wrong.push(
            `page ${JSON.stringify(asked)}: ${meta.total} and ${ids.slice(0, 3).join()} of ${after.join()}`,
          );
        }
        const seen = new Set(
          records.map((each) => String((each as { generation?: unknown }).generation)),
        );
        if (seen.size > 1) wrong.push(`a page of generations ${[...seen].join()}`);
      },
      async csv() {
        const asked = window();
        const before = possible;
        const query = new URLSearchParams(asked).toString();
        const answer = await fetch(`${url}/v1/listings/gradings/records.csv?${query}`, {
          headers: { Authorization: `Bearer ${key}` },
        });
        const text = await answer.text();
        if (answer.status !== 200) throw new OrismaError(text, answer.status, null);
        const ids = text
          .trim()
          .split("\n")
          .slice(1)
          .map((line) => line.split(",")[0] ?? "");
        const after = [...new Set([...before, ...possible])];
        if (after.some((number) => expectedIds(number, asked.from, asked.to).join() === ids.join()))
          return;
        wrong.push(`csv ${JSON.stringify(asked)}: ${ids.length} of generations ${after.join()}`);
      },
      async choices() {
        const asked = window();
        const before = possible;
        const { choices } = await client.choices("gradings", "grade", asked);
        const after = [...new Set([...before, ...possible])];
        const sum = choices.reduce((all, each) => all + each.records, 0);
        if (after.some((number) => expectedIds(number, asked.from, asked.to).length === sum))
          return;
        wrong.push(`choices ${JSON.stringify(asked)}: ${sum} of generations ${after.join()}`);
      },
      async explain() {
        await client.explain("gradings", window());
      },
      async listings() {
        await client.listings();
        await client.imports("gradings");
      },
    };

    const readers = Array.from({ length: READERS }, async () => {
      const kinds = ["page", "page", "page", "csv", "choices", "explain", "listings"] as const;
      while (!ending.signal.aborted) {
        const kind = pick(kinds);
        await inTime(kind, read[kind]()).then(
          () => count(kind),
          (error: unknown) => failed(kind, error),
        );
        await sleep(random() * 40);
      }
    });

    const writer = (async () => {
      for (let number = 1; !ending.signal.aborted; number++) {
        possible = [...possible, number];
        try {
          const sent = { file: `${number}.csv` };
          await inTime("import", client.importFile("gradings", fileOf(number), sent), IMPORT_MS);
          possible = [number];
          count("import");
        } catch (error) {
          // Its answer may have been lost when it was imported already.
          failed("import", error);
        }
        await sleep(300 + random() * 900);
      }
    })();

    const ready = async () => {
      for (let looks = 0; looks < 600; looks++) {
        const answer = await fetch(`${url}/health/ready`).catch(() => null);
        if (answer?.status === 200) return true;
        await sleep(100);
      }
      return false;
    };

    const faults = {
      async killedDatabase() {
        cutUntil = Infinity;
        process.kill(small.databasePid(), "SIGKILL");
        expect(await ready()).toBe(true);
        cutUntil = performance.now() + 2_000;
      },
      async frozenDatabase() {
        const pid = small.databasePid();
        cutUntil = Infinity;
        process.kill(pid, "SIGSTOP");
        await sleep(1_000 + random() * 4_000);
        process.kill(pid, "SIGCONT");
        expect(await ready()).toBe(true);
        cutUntil = performance.now() + 2_000;
      },
      async killedConnections() {
        const owner = await asRoot();
        if (owner === null) return;
        cutUntil = Infinity;
        const [rows] = await owner.query<mysql.RowDataPacket[]>(
          "SELECT id FROM information_schema.processlist WHERE user = 'orisma'",
        );
        for (const { id } of rows)
          await owner.query(`KILL CONNECTION ${Number(id)}`).catch(() => null);
        await owner.end();
        await sleep(500);
        cutUntil = performance.now() + 2_000;
      },
      async fullDisk() {
        small.fill();
        await sleep(1_000 + random() * 3_000);
        small.unfill();
      },
      async hungClients() {
        const sockets = Array.from({ length: 12 }, (_, index) => hung(index));
        await sleep(2_000);
        for (const socket of sockets) socket.destroy();
      },
    };

    function hung(index: number): Socket {
      const socket = connectTcp(Number(new URL(url).port), "127.0.0.1");
      socket.on("error", () => undefined);
      const head = `Host: localhost\r\nAuthorization: Bearer ${key}\r\n`;
      const sent = [
        `GET /v1/listings/gradings/records.csv HTTP/1.1\r\n${head}\r\n`,
        `POST /v1/keys HTTP/1.1\r\n${head}Content-Type: application/json\r\nContent-Length: 900\r\n\r\n{"name`,
        `GET /v1/listings/gra`,
      ];
      socket.write(sent[index % sent.length] ?? "");
      socket.pause();
      return socket;
    }

    /** The administrator of the private server, who comes over its socket; null where this is another user. */
    async function asRoot(): Promise<mysql.Connection | null> {
      if (process.getuid?.() !== 0) return null;
      const socketPath = small.path("state", "database", "run", "mariadbd.sock");
      return mysql.createConnection({ socketPath, user: "root" }).catch(() => null);
    }

    const begun = performance.now();
    // Warm: what is kept for later is there, and what is compiled is compiled.
    await sleep(Math.min(15_000, SECONDS * 100));
    const warm = sizeOf(small.child.pid ?? 0);
    while (performance.now() - begun < SECONDS * 1_000) {
      const name = pick(Object.keys(faults) as (keyof typeof faults)[]);
      const { megabytes, handles } = sizeOf(small.child.pid ?? 0);
      const at = Math.round((performance.now() - begun) / 1_000);
      process.stderr.write(
        `soak: ${at} s, ${Math.round(megabytes)} MB, ${handles} handles, ${name}\n`,
      );
      await faults[name]();
      count(name);
      await sleep(1_000 + random() * 2_000);
    }
    ending.abort();
    await Promise.all([...readers, writer]);
    process.stderr.write(`soak: seed ${SEED}, ${JSON.stringify(counts)}\n`);
    expect(wrong).toEqual([]);
    expect(await ready()).toBe(true);

    // At rest all is as the model says, and nothing is left of what was broken off.
    const last = ROWS + 1;
    await client.importFile("gradings", fileOf(last), { file: "last.csv" });
    for (const month of ["2025-01", "2025-06", "2025-12"]) {
      const { records, meta } = await client.records("gradings", {
        from: month,
        to: month,
        size: "100",
      });
      const all = expectedIds(last, `${month}-01`, `${month}-31`);
      expect([meta.total, records.map(({ id }) => id)]).toEqual([all.length, all.slice(0, 100)]);
    }
    expect(readdirSync(small.path("state", "arriving"))).toEqual([]);
    const tables = () =>
      readdirSync(small.path("state", "database", "data", "orisma")).filter((name) =>
        /^records_.*\.ibd$/.test(name),
      );
    // Of this import, and of the one before it, which can be restored; the rest is dropped again and again.
    await until(() => tables().length <= 2);
    await sleep(2_000);
    const now = sizeOf(small.child.pid ?? 0);
    expect(now.handles).toBeLessThanOrEqual(warm.handles + MAX_HANDLES);
    expect(now.megabytes).toBeLessThanOrEqual(warm.megabytes + MAX_GROWTH_MB);
    for (const kind of ["page", "csv", "choices", "import"])
      expect(counts[kind]).toBeGreaterThan(5);
    const log = readFileSync(small.path("state", "logs", "service.log"), "utf8");
    expect(log.split("\n").filter((line) => line.includes("Something went wrong"))).toEqual([]);
  },
  (SECONDS + 240) * 1_000,
);

/** Milliseconds within which everything is answered, whatever is broken. */
const ANSWER_MS = 60_000;
/** A database whose disk was full looks only once a minute whether an import can go on. */
const IMPORT_MS = 180_000;

async function inTime<T>(what: string, work: Promise<T>, ms = ANSWER_MS): Promise<T> {
  const late = new AbortController();
  const limit = sleep(ms, null, { signal: late.signal }).then(() => {
    throw new Error(`${what} was not answered within ${ms} ms`);
  });
  try {
    return await Promise.race([work, limit]);
  } finally {
    limit.catch(() => undefined);
    late.abort();
  }
}

/** Memory and handles of a process. */
function sizeOf(pid: number): { readonly megabytes: number; readonly handles: number } {
  const status = readFileSync(`/proc/${pid}/status`, "utf8");
  const [, kilobytes = "0"] = /^VmRSS:\s+(\d+) kB/m.exec(status) ?? [];
  return { megabytes: Number(kilobytes) / 1_024, handles: readdirSync(`/proc/${pid}/fd`).length };
}
