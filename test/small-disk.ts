import { spawn, type ChildProcess } from "node:child_process";
import {
  closeSync,
  mkdirSync,
  openSync,
  readFileSync,
  rmSync,
  statfsSync,
  writeSync,
} from "node:fs";
import { join } from "node:path";
import { OrismaClient } from "@orisma/client";
import { ROOT } from "./service.js";
import { until } from "./until.js";

/** A service as a process, whose state lies on a small disk of its own. */
export interface OnSmallDisk {
  readonly child: ChildProcess;
  readonly url: string;
  readonly key: string;
  readonly client: OrismaClient;
  /** A path on the disk, which only the service sees under its own name. */
  readonly path: (...parts: string[]) => string;
  /** The process of its database, which is another after a crash. */
  readonly databasePid: () => number;
  /** Writes until nothing more can be written, or until only so many megabytes are left. */
  readonly fill: (leaveMb?: number) => void;
  readonly unfill: () => void;
}

const BLOCK = Buffer.alloc(256 * 1024);

/**
 * Starts a service on a disk of so many megabytes: a mount of its own, which ends with its processes;
 * without root in a user space of its own too.
 */
export async function startOnSmallDisk(folder: string, megabytes: number): Promise<OnSmallDisk> {
  const disk = join(folder, "disk");
  mkdirSync(disk);
  const apart = process.getuid?.() === 0 ? [] : ["--user", "--map-current-user", "--keep-caps"];
  // With little memory what is not freed shows: the process would end.
  const mount = `mount -t tmpfs -o size=${megabytes}m,mode=0711 tmpfs "$1" && exec "$2" --max-old-space-size=200 "$3" --empty`;
  const script = join(ROOT, "scripts/start.mjs");
  const words = [...apart, "--mount", "sh", "-c", mount, "sh", disk, process.execPath, script];
  const child = spawn("unshare", words, {
    env: {
      ...process.env,
      NODE_OPTIONS: "",
      ORISMA_STATE: join(disk, "state"),
      ORISMA_PORT: "0",
      ORISMA_DATABASE_MEMORY: "64M",
    },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let output = "";
  for (const stream of [child.stdout, child.stderr]) {
    stream.on("data", (text) => (output += String(text)));
  }
  await until(() => {
    if (child.exitCode !== null) throw new Error(output);
    return output.includes("Orisma answers at");
  });
  const path = (...parts: string[]) => join(`/proc/${child.pid}/root`, disk, ...parts);
  const { url, key } = JSON.parse(readFileSync(path("state", "client.json"), "utf8")) as {
    url: string;
    key: string;
  };
  const fill = (leaveMb = 0) => {
    const { bavail, bsize } = statfsSync(path());
    const file = openSync(path("filler"), "a");
    let more = leaveMb === 0 ? Infinity : bavail * bsize - leaveMb * 1024 ** 2;
    try {
      for (let size = BLOCK.length; more > 0; more -= size) {
        try {
          writeSync(file, BLOCK, 0, size);
        } catch {
          if (size === 1) return;
          size = Math.max(1, Math.floor(size / 4));
        }
      }
    } finally {
      closeSync(file);
    }
  };
  return {
    child,
    url,
    key,
    client: new OrismaClient({ url, key }),
    path,
    databasePid: () =>
      Number(readFileSync(path("state", "database", "run", "mariadbd.pid"), "utf8")),
    fill,
    unfill: () => rmSync(path("filler"), { force: true }),
  };
}
