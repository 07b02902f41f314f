import type { SqlValue, Statement } from "@orisma/core/internal";
import { startEngine } from "@orisma/server";
import mysql from "mysql2/promise";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { median } from "./measure.js";

/** Statements run in turn against others of the same meaning, reported as ratios. */
export class Rivals {
  readonly lines: string[] = [];

  constructor(
    private readonly connection: mysql.Connection,
    private readonly passes: number,
  ) {}

  /** Times our statements against others; what they count must be the same. */
  async compare(
    title: string,
    ours: readonly Statement[],
    others: Readonly<Record<string, Statement>>,
  ): Promise<void> {
    const listed = Object.fromEntries(Object.entries(others).map(([name, each]) => [name, [each]]));
    const times = await this.#inTurn({ orisma: ours, ...listed });
    const own = times.get("orisma") ?? [];
    const ratios = [...times]
      .filter(([name]) => name !== "orisma")
      .map(([name, other]) => {
        const ratio = median(own.map((time, index) => time / (other[index] ?? NaN)));
        return `${name} ${ratio < 0.1 ? `1/${(1 / ratio).toFixed(0)}` : ratio.toFixed(2)}`;
      });
    const line = `${title.padEnd(46)} ${median(own).toFixed(1).padStart(8)} ms   of ${ratios.join(", ")}`;
    this.lines.push(line);
    say(line);
  }

  async #inTurn(
    rivals: Readonly<Record<string, readonly Statement[]>>,
  ): Promise<ReadonlyMap<string, readonly number[]>> {
    const times = new Map<string, number[]>(Object.keys(rivals).map((name) => [name, []]));
    for (let pass = 0; pass <= this.passes; pass++) {
      const counts = new Set<string>();
      for (const [name, statements] of Object.entries(rivals)) {
        const begun = performance.now();
        for (const { text, values } of statements) {
          const [rows] = await this.connection.execute<mysql.RowDataPacket[]>(text, [...values]);
          if (rows[0] !== undefined && "n" in rows[0]) counts.add(String(Number(rows[0].n)));
        }
        // The first pass only warms up.
        if (pass > 0) times.get(name)?.push(performance.now() - begun);
      }
      if (counts.size > 1) throw new Error(`the counts differ: ${[...counts].join(", ")}`);
    }
    return times;
  }
}

/** Measures on a database of its own, which ends afterwards. */
export async function onEngine(
  run: (connection: mysql.Connection) => Promise<void>,
): Promise<void> {
  const scratch = mkdtempSync(join(tmpdir(), "orisma-bench-"));
  chmodSync(scratch, 0o711);
  const engine = await startEngine({ folder: join(scratch, "database"), tell: say, onCrash: say });
  // Whoever ends the bench ends its database too.
  const stop = () => {
    void engine.stop().finally(() => {
      rmSync(scratch, { recursive: true, force: true });
      process.exit(1);
    });
  };
  process.once("SIGINT", stop).once("SIGTERM", stop);
  const connection = await mysql.createConnection({ ...engine.login, timezone: "Z" });
  try {
    await run(connection);
  } finally {
    process.off("SIGINT", stop).off("SIGTERM", stop);
    await connection.end();
    await engine.stop();
    rmSync(scratch, { recursive: true, force: true });
  }
}

export function statement(text: string, values: readonly SqlValue[]): Statement {
  return { text, values };
}

/** Says on standard error what is being measured. */
export function say(line: string): void {
  process.stderr.write(`bench: ${line}\n`);
}
