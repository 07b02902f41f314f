import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { renameDurably, writeDurably } from "./durable.js";

/** What the command line finds in the state folder. */
export interface ClientFile {
  readonly url: string;
  readonly key: string;
}

/** Another service runs on the same state folder. */
export class AlreadyRunning extends Error {}

/** The secret of the service cannot be used; the message says what to do. */
export class SecretError extends Error {}

const RESTORING = "restoring";
const SECRET_BYTES = 32;
const SECRET_ADVICE =
  "Restore it from a backup; or start once with --new-secret: cursors and sessions end, and " +
  "attached databases need their passwords again";

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

  /**
   * The secret from which keys for cursors and tokens are derived; made the first time. Throws a
   * {@link SecretError} where it is too short, or missing from a folder that was used before.
   */
  secret(): Buffer {
    const path = join(this.path, "secret");
    if (!existsSync(path)) {
      if (this.ownKey() !== null) throw new SecretError(`${path} is missing. ${SECRET_ADVICE}`);
      return this.newSecret();
    }
    const text = readFileSync(path, "utf8").trim();
    if (!/^(?:[0-9a-f]{2})*$/.test(text) || text.length < 2 * SECRET_BYTES) {
      throw new SecretError(
        `${path} does not hold ${SECRET_BYTES} bytes in hexadecimal. ${SECRET_ADVICE}`,
      );
    }
    return Buffer.from(text, "hex");
  }

  /** Another secret in place of the one before, which is kept until {@link forgetSecretBefore}. */
  newSecret(): Buffer {
    const path = join(this.path, "secret");
    if (existsSync(path)) renameDurably(path, this.#secretBefore);
    const secret = randomBytes(SECRET_BYTES);
    writeDurably(path, `${secret.toString("hex")}\n`);
    return secret;
  }

  /** The secret before the last {@link newSecret}; null where nothing is sealed with it any more. */
  secretBefore(): Buffer | null {
    if (!existsSync(this.#secretBefore)) return null;
    return Buffer.from(readFileSync(this.#secretBefore, "utf8").trim(), "hex");
  }

  /** Takes a secret of a backup into use; attached databases were sealed with it. */
  keepSecret(hex: string): void {
    writeDurably(join(this.path, "secret"), `${hex}\n`);
  }

  /** From here on the database is no whole one, until {@link endRestoring}. */
  beginRestoring(): void {
    writeDurably(join(this.path, RESTORING), "");
  }

  endRestoring(): void {
    rmSync(join(this.path, RESTORING), { force: true });
  }

  /** Whether a backup was begun to be restored and is not whole. */
  get isRestoring(): boolean {
    return existsSync(join(this.path, RESTORING));
  }

  forgetSecretBefore(): void {
    rmSync(this.#secretBefore, { force: true });
  }

  get #secretBefore(): string {
    return join(this.path, "secret.before");
  }

  /** The key that the command line of this machine uses, or null before the first start. */
  ownKey(): string | null {
    const path = join(this.path, "own-key");
    return existsSync(path) ? readFileSync(path, "utf8").trim() : null;
  }

  keepOwnKey(key: string): void {
    writeDurably(join(this.path, "own-key"), key);
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
    writeDurably(join(this.path, mark), "");
  }

  #holder(): { readonly pid: number; readonly start: string } | null {
    try {
      return JSON.parse(readFileSync(join(this.path, "service.json"), "utf8")) as never;
    } catch {
      return null;
    }
  }

  #write(name: string, content: object): void {
    writeDurably(join(this.path, name), `${JSON.stringify(content)}\n`);
  }
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
