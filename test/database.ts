import { chmodSync, mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startEngine, type Engine } from "@orisma/server";

declare global {
  var orismaTestEngine: Engine | undefined;
}

/** Starts one MariaDB for the whole run, on a port of its own; each suite makes its database. */
export default async function start(): Promise<void> {
  if (globalThis.orismaTestEngine !== undefined) return;
  const scratch = mkdtempSync(join(tmpdir(), "orisma-test-"));
  // The database may run as another user, who must be able to pass through.
  chmodSync(scratch, 0o711);
  const engine = await startEngine({
    folder: join(scratch, "database"),
    durable: false,
    tell: () => undefined,
    onCrash: (report) => process.stderr.write(`${report}\n`),
  });
  globalThis.orismaTestEngine = engine;
  process.env.TEST_DATABASE_LOGIN = JSON.stringify(engine.login);
}
