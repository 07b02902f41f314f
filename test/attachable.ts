import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startEngine, type Engine, type Settings } from "@orisma/server";
import mysql from "mysql2/promise";

type Accounts = NonNullable<Parameters<typeof startEngine>[0]["accounts"]>;

/** A MariaDB of somebody else's, beside that of the run. */
export interface AttachableServer {
  readonly engine: Engine;
  /** A connection that may do all, with its database chosen. */
  readonly owner: mysql.Connection;
  readonly place: Settings["attachable"][number];
  end(): Promise<void>;
}

/** Starts a MariaDB with a database that can be attached, and accounts for it. */
export async function startAttachable(
  database: string,
  accounts: Accounts,
): Promise<AttachableServer> {
  const scratch = mkdtempSync(join(tmpdir(), "orisma-attachable-"));
  // The database may run as another user, who must be able to pass through.
  chmodSync(scratch, 0o711);
  const engine = await startEngine({
    folder: join(scratch, "database"),
    durable: false,
    tell: () => undefined,
    onCrash: (report) => process.stderr.write(report),
    accounts,
  });
  const owner = await mysql.createConnection({ ...engine.login, timezone: "Z" });
  await owner.query(`CREATE DATABASE ${database}`);
  await owner.query(`USE ${database}`);
  const { host, port } = engine.login;
  return {
    engine,
    owner,
    place: { host, port },
    end: async () => {
      await owner.end();
      await engine.stop();
      rmSync(scratch, { recursive: true, force: true });
    },
  };
}
