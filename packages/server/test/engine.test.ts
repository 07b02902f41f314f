import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { until } from "../../../test/until.js";

const scratch = mkdtempSync(join(tmpdir(), "orisma-engine-"));
// The database runs as another user where this one is root.
chmodSync(scratch, 0o711);
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

/** An engine of a test's own, what it said, and the report with which it was given up. */
async function started(name: string) {
  const lines: string[] = [];
  let giveUp: (report: string) => void = () => undefined;
  const givenUp = new Promise<string>((resolve) => (giveUp = resolve));
  const engine = await startEngine({
    folder: join(scratch, name),
    durable: false,
    backOffMs: 1,
    tell: (line) => lines.push(line),
    onCrash: (report) => giveUp(report),
  });
  const pid = () => Number(readFileSync(join(engine.folder, "run", "mariadbd.pid"), "utf8"));
  return { engine, lines, givenUp, pid };
}

describe("the private database", () => {
  test("that ends by itself is started again on the same port, and not once it was stopped", async () => {
    const { engine, lines, pid } = await started("again");
    const before = pid();
    process.kill(before, "SIGKILL");
    await until(() => lines.length >= 2);
    expect(lines[0]).toContain("the database ended by itself (signal SIGKILL)");
    expect(lines[1]).toBe("the database was started again");
    const connection = await mysql.createConnection({ ...engine.login });
    await connection.end();
    const after = pid();
    expect(after).not.toBe(before);
    await engine.stop();
    expect(existsSync(`/proc/${after}`)).toBe(false);
    expect(lines).toHaveLength(2);
  });

  test("that cannot be started again is given up after eight starts, with why", async () => {
    const { engine, lines, givenUp, pid } = await started("broken");
    // Without its own accounts no server comes up.
    rmSync(join(engine.folder, "data", "mysql"), { recursive: true });
    process.kill(pid(), "SIGKILL");
    expect(await givenUp).toContain("the database ended by itself (signal SIGKILL)");
    expect(lines.filter((line) => line.startsWith("the database did not start"))).toHaveLength(8);
    expect(lines).not.toContain("the database was started again");
    await engine.stop();
  });
});
