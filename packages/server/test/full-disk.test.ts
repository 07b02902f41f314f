import { spawn, type ChildProcess } from "node:child_process";
import {
  chmodSync,
  closeSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readFileSync,
  rmSync,
  statSync,
  writeSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { OrismaClient } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { ROOT } from "../../../test/service.js";

/** Megabytes of the disk: those of a fresh database, and some for records. */
const DISK_MB = 340;

const scratch = mkdtempSync(join(tmpdir(), "orisma-full-"));
// The database may run as another user, who must be able to pass through.
chmodSync(scratch, 0o711);
const disk = join(scratch, "disk");
let child: ChildProcess;
let output = "";
let client: OrismaClient;
let key: string;
let url: string;

/** A path on the small disk, which only the service sees under its own name. */
const onDisk = (...parts: string[]) => join(`/proc/${child.pid}/root`, disk, ...parts);

beforeAll(async () => {
  mkdirSync(disk);
  // A mount of its own, which ends with its processes; without root in a user space of its own too.
  const apart = process.getuid?.() === 0 ? [] : ["--user", "--map-current-user", "--keep-caps"];
  const mount = `mount -t tmpfs -o size=${DISK_MB}m,mode=0711 tmpfs "$1" && exec "$2" "$3" --empty`;
  child = spawn(
    "unshare",
    [
      ...apart,
      ...["--mount", "sh", "-c", mount, "sh"],
      ...[disk, process.execPath, join(ROOT, "scripts/start.mjs")],
    ],
    {
      env: {
        ...process.env,
        NODE_OPTIONS: "",
        ORISMA_STATE: join(disk, "state"),
        ORISMA_PORT: "0",
        ORISMA_DATABASE_MEMORY: "64M",
      },
      stdio: ["ignore", "pipe", "pipe"],
    },
  );
  for (const stream of [child.stdout, child.stderr]) {
    stream?.on("data", (text) => (output += String(text)));
  }
  while (!output.includes("Orisma answers at")) {
    if (child.exitCode !== null) throw new Error(output);
    await sleep(50);
  }
  ({ url, key } = JSON.parse(readFileSync(onDisk("state", "client.json"), "utf8")) as {
    url: string;
    key: string;
  });
  client = new OrismaClient({ url, key });
  const DATE = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
  await client.createSource({ name: "works", key: "order", columns: { raised: DATE } });
  await client.importFile("works", fileOf(200));
  await client.declareListing("works", { source: "works", mainDate: "raised" });
}, 90_000);
afterAll(() => {
  child.kill("SIGKILL");
  rmSync(scratch, { recursive: true, force: true });
});

function fileOf(rows: number): string {
  const lines = Array.from(
    { length: rows },
    (_, index) =>
      `W-${index},2025-02-${String(1 + (index % 28)).padStart(2, "0")},${"n".repeat(80)}`,
  );
  return `order,raised,note\n${lines.join("\n")}\n`;
}

/** Writes until nothing more can be written, or until only so many megabytes are left. */
async function fill(leaveMb = 0): Promise<void> {
  const { statfs } = await import("node:fs/promises");
  const { bavail, bsize } = await statfs(onDisk());
  const file = openSync(onDisk("filler"), "a");
  const block = Buffer.alloc(256 * 1024);
  try {
    let left = leaveMb === 0 ? Infinity : bavail * bsize - leaveMb * 1024 ** 2;
    for (let size = block.length; left > 0; left -= size) {
      try {
        writeSync(file, block, 0, size);
      } catch {
        if (size === 1) return;
        size = Math.max(1, Math.floor(size / 4));
      }
    }
  } finally {
    closeSync(file);
  }
}

const unfill = () => rmSync(onDisk("filler"), { force: true });

const FEBRUARY = { from: "2025-02-03", to: "2025-02-03" };
const ask = (path: string) =>
  fetch(`${url}${path}`, { headers: { Authorization: `Bearer ${key}` } });

/** Reads in every way, and gives what came. */
async function readings() {
  const [page, summary, choices, csv, ready] = await Promise.all([
    client.records("works", FEBRUARY),
    client.summary("works", { ...FEBRUARY, by: "note" }),
    client.choices("works", "note", FEBRUARY),
    ask("/v1/listings/works/records.csv?order=-raised").then((answer) => answer.text()),
    ask("/health/ready"),
    client.sources(),
    client.imports("works"),
    client.listings(),
    client.listingVersions("works"),
    client.keys(),
    client.explain("works", FEBRUARY),
  ]);
  return [
    page.meta.total,
    summary.groups.length,
    choices.choices.length,
    csv.trim().split("\n").length,
    ready.status,
  ];
}

describe("a full disk", () => {
  test("stops no reading, refuses imports before they start, and is over when there is space", async () => {
    const before = await readings();
    expect(before).toEqual([8, 1, 1, 201, 200]);
    await fill();
    expect(await readings()).toEqual(before);
    for (const rows of [1, 50_000]) {
      const refused = await refusal(client.importFile("works", fileOf(rows)));
      expect(refused).toMatchObject({ status: 507, type: "/problems#disk-full" });
      expect(refused?.detail).toMatch(/^The disk is full: the file needs about .* Free disk space/);
    }
    // What the service keeps beside the records is either kept or refused, and never half.
    const creating = client.createKey({ name: "full", role: "reader" });
    const created = await creating.catch((error: unknown) =>
      refusal(Promise.reject(error as Error)),
    );
    if (created !== null && "status" in created) expect(created.status).toBe(507);
    const metrics = await (await ask("/metrics")).text();
    expect(Number(/^orisma_disk_free_bytes (\d+)/m.exec(metrics)?.[1])).toBeLessThan(1_000_000);
    // More lines than the log holds while it cannot be written.
    for (let round = 0; round < 40; round++) {
      await Promise.all(Array.from({ length: 25 }, () => ask("/health/live")));
    }
    expect(await readings()).toEqual(before);
    expect(child.exitCode).toBeNull();

    unfill();
    const report = await client.importFile("works", fileOf(300));
    expect(report).toMatchObject({ records: 300, refused: 0 });
    const log = onDisk("state", "logs", "service.log");
    const size = statSync(log).size;
    for (let looks = 0; looks < 100 && statSync(log).size === size; looks++) {
      await ask("/health/live");
      await sleep(50);
    }
    expect(statSync(log).size).toBeGreaterThan(size);
    expect(readFileSync(log, "utf8").trim().split("\n").at(-1)).toMatch(/^\{.*\}$/);
  }, 90_000);

  test("that fills up in the middle of an import ends it, and the records stay as they were", async () => {
    const { meta } = await client.records("works", {});
    const text = fileOf(60_000);
    let isCut = false;
    for (let tries = 0; tries < 5 && !isCut; tries++) {
      unfill();
      const importing = client
        .importFile("works", text, { again: true })
        .then(() => null)
        .catch((error: unknown) => error);
      for (;;) {
        const { running } = await client.imports("works");
        if (running !== null && running.records > 1_000) break;
        await sleep(2);
      }
      await fill();
      const error = await importing;
      if (error === null) continue;
      expect(await refusal(Promise.reject(error as Error))).toMatchObject({
        status: 507,
        type: "/problems#disk-full",
      });
      isCut = true;
    }
    expect(isCut).toBe(true);
    expect((await client.records("works", {})).meta.total).toBe(meta.total);
    unfill();
    const { imports, running } = await client.imports("works");
    expect(running).toBeNull();
    expect(imports.filter(({ state }) => state === "failed").length).toBeGreaterThan(0);
    expect(await client.importFile("works", text, { again: true })).toMatchObject({
      records: 60_000,
    });
  }, 120_000);

  test("does not keep the service from ending, nor its database from ending with it", async () => {
    const pid = Number(readFileSync(onDisk("state", "database", "run", "mariadbd.pid"), "utf8"));
    expect(existsSync(`/proc/${pid}`)).toBe(true);
    await fill();
    await Promise.all(Array.from({ length: 200 }, () => ask("/health/live")));
    const ended = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGTERM");
    expect(await ended).toBe(0);
    for (let looks = 0; looks < 100 && existsSync(`/proc/${pid}`); looks++) await sleep(50);
    expect(existsSync(`/proc/${pid}`)).toBe(false);
  }, 60_000);
});
