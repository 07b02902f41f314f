import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { OrismaClient } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startOnSmallDisk, type OnSmallDisk } from "../../../test/small-disk.js";
import { until } from "../../../test/until.js";

/** Megabytes of the disk: those of a fresh database, and some for records. */
const DISK_MB = 340;

const scratch = mkdtempSync(join(tmpdir(), "orisma-full-"));
// The database may run as another user, who must be able to pass through.
chmodSync(scratch, 0o711);
let small: OnSmallDisk;
let client: OrismaClient;

beforeAll(async () => {
  small = await startOnSmallDisk(scratch, DISK_MB);
  ({ client } = small);
  const DATE = { type: "date", reading: { kind: "date", encoding: "text" } } as const;
  await client.createSource({ name: "works", key: "order", columns: { raised: DATE } });
  await client.importFile("works", fileOf(200));
  await client.declareListing("works", { source: "works", mainDate: "raised" });
});
afterAll(() => {
  small.child.kill("SIGKILL");
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

const FEBRUARY = { from: "2025-02-03", to: "2025-02-03" };
const ask = (path: string) =>
  fetch(`${small.url}${path}`, { headers: { Authorization: `Bearer ${small.key}` } });

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
    small.fill();
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
    expect(small.child.exitCode).toBeNull();

    small.unfill();
    const report = await client.importFile("works", fileOf(300));
    expect(report).toMatchObject({ records: 300, refused: 0 });
    const log = small.path("state", "logs", "service.log");
    const size = statSync(log).size;
    await until(async () => {
      await ask("/health/live");
      return statSync(log).size > size;
    });
    expect(readFileSync(log, "utf8").trim().split("\n").at(-1)).toMatch(/^\{.*\}$/);
  });

  test("that fills up in the middle of an import ends it, and the records stay as they were", async () => {
    const { meta } = await client.records("works", {});
    const text = fileOf(60_000);
    let isCut = false;
    for (let tries = 0; tries < 5 && !isCut; tries++) {
      small.unfill();
      const importing = client
        .importFile("works", text, { again: true })
        .then(() => null)
        .catch((error: unknown) => error);
      for (;;) {
        const { running } = await client.imports("works");
        if (running !== null && running.records > 1_000) break;
        await sleep(2);
      }
      small.fill();
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
    small.unfill();
    const { imports, running } = await client.imports("works");
    expect(running).toBeNull();
    expect(imports.filter(({ state }) => state === "failed").length).toBeGreaterThan(0);
    expect(await client.importFile("works", text, { again: true })).toMatchObject({
      records: 60_000,
    });
  });

  test("does not keep the service from ending, nor its database from ending with it", async () => {
    const pid = small.databasePid();
    expect(existsSync(`/proc/${pid}`)).toBe(true);
    small.fill();
    await Promise.all(Array.from({ length: 200 }, () => ask("/health/live")));
    const ended = new Promise((resolve) => small.child.once("exit", resolve));
    small.child.kill("SIGTERM");
    expect(await ended).toBe(0);
    await until(() => !existsSync(`/proc/${pid}`));
  });
});
