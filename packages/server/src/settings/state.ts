import { randomBytes } from "node:crypto";
import {
  chmodSync,
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { join } from "node:path";

/** What the command line finds in the state folder. */
export interface ClientFile {
  readonly url: string;
  readonly key: string;
}

/** Another service runs on the same state folder. */
export class AlreadyRunning extends Error {}

/** The folder in which a service keeps what is its own: database, logs, secrets. */
export class StateFolder {
  constructor(readonly path: string) {
    // Others may pass through, to the database's own folder, and see nothing.
    mkdirSync(path, { recursive: true, mode: 0o711 });
    mkdirSync(this.logs, { recursive: true, mode: 0o700 });
  }

  get database(): string {
    return join(this.path, "database");
  }

  get logs(): string {
    return join(this.path, "logs");
  }

  /** Where files lie while they are taken; emptied at the start of the service. */
  get arriving(): string {
    return join(this.path, "arriving");
  }

  /** Claims the folder for this process; throws where a living one has it. */
  lock(): void {
    const holder = this.#holder();
    if (holder !== null && holder.pid !== process.pid && startOf(holder.pid) === holder.start) {
      throw new AlreadyRunning(`a service already runs on ${this.path}, as process ${holder.pid}`);
    }
    this.#write("service.json", { pid: process.pid, start: startOf(process.pid) });
  }

  unlock(): void {
    rmSync(join(this.path, "service.json"), { force: true });
    rmSync(join(this.path, "client.json"), { force: true });
  }

  /** The secret from which keys for cursors and tokens are derived; made the first time. */
  secret(): Buffer {
    const path = join(this.path, "secret");
    if (!existsSync(path)) writePrivately(path, randomBytes(32).toString("hex"));
    return Buffer.from(readFileSync(path, "utf8").trim(), "hex");
  }

  /** The key that the command line of this machine uses, or null before the first start. */
  ownKey(): string | null {
    const path = join(this.path, "own-key");
    return existsSync(path) ? readFileSync(path, "utf8").trim() : null;
  }

  keepOwnKey(key: string): void {
    writePrivately(join(this.path, "own-key"), key);
  }

  /** Tells the command line where the service is. */
  writeClientFile(client: ClientFile): void {
    this.#write("client.json", client);
  }

  /** Whether something was done once and for all. */
  isMarked(mark: string): boolean {
    return existsSync(join(this.path, mark));
  }

  mark(mark: string): void {
    writePrivately(join(this.path, mark), "");
  }

  #holder(): { readonly pid: number; readonly start: string } | null {
    try {
      return JSON.parse(readFileSync(join(this.path, "service.json"), "utf8")) as never;
    } catch {
      return null;
    }
  }

  #write(name: string, content: object): void {
    writePrivately(join(this.path, name), `${JSON.stringify(content)}\n`);
  }
}

/** Readable by its owner only, and never half written. */
function writePrivately(path: string, text: string): void {
  const fresh = `${path}.new`;
  writeFileSync(fresh, text, { mode: 0o600 });
  chmodSync(fresh, 0o600);
  renameSync(fresh, path);
}

/** When a process began, in the kernel's own count: distinguishes a process from a later one of its number. */
function startOf(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? null;
  } catch {
    return null;
  }
}
