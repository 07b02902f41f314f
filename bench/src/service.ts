import { spawn, type ChildProcess } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { OrismaClient } from "@orisma/client";
import type { DatabaseLogin } from "@orisma/server";

const ROOT = join(import.meta.dirname, "../..");

/** The service as a process of its own, without demo data, on a database that runs. */
export async function startOrisma(login: DatabaseLogin, state: string) {
  const { user, password, host, port, database } = login;
  const child: ChildProcess = spawn(
    process.execPath,
    [join(ROOT, "scripts/start.mjs"), "--empty"],
    {
      env: {
        ...process.env,
        NODE_ENV: "production",
        ORISMA_STATE: state,
        ORISMA_PORT: "0",
        ORISMA_DATABASE_URL: `mariadb://${user}:${password}@${host}:${port}/${database}`,
      },
      stdio: ["ignore", "pipe", "inherit"],
    },
  );
  let output = "";
  child.stdout?.on("data", (text) => (output += String(text)));
  while (!output.includes("Orisma answers at")) {
    if (child.exitCode !== null) throw new Error("the service did not start");
    await sleep(50);
  }
  const { url, key } = JSON.parse(readFileSync(join(state, "client.json"), "utf8")) as {
    url: string;
    key: string;
  };
  return { child, url, key, client: new OrismaClient({ url, key }) };
}
