import type { RequestHandler } from "express";
import type { Logger } from "pino";
import { LessThan, MoreThanOrEqual, type DataSource, type FindOptionsWhere } from "typeorm";
import { contextOf } from "../http/index.js";
import { AuditEntry } from "./entities.js";
import { notedForAudit } from "./note.js";

/** Entries that wait to be written at most: those beyond are lost, and counted. */
const MAX_WAITING = 10_000;
const BATCH = 500;
const FLUSH_MS = 250;
const DAY_MS = 86_400_000;
const FORGET_EVERY_MS = 3_600_000;
/** Rows that are deleted at a time. */
const FORGET_ROWS = 5_000;

/** Calls that read nothing of anybody, and change nothing. */
const NOT_AUDITED = [
  /^GET \/v1\/session$/,
  /^GET \/v1\/(?:listings|sources|windows|ladders|holidays|databases)(?:\/\{name\})?$/,
  /^GET \/v1\/listings\/\{name\}\/windows$/,
  // How far an import is: looked at many times a minute.
  /^GET \/v1\/sources\/\{name\}\/imports$/,
  /^POST \/v1\/(?:windows\/resolve|dates\/read|filters\/translate|files\/inspect)$/,
];

/** Which entries are wanted; all by default, the latest first. */
export interface AuditQuery {
  readonly fromMs?: number;
  readonly beforeMs?: number;
  readonly caller?: string;
  readonly action?: string;
  readonly target?: string;
  /** Only entries with a lower id. */
  readonly beforeId?: string;
  readonly limit: number;
}

/** What is new of an entry: its id is given by the database. */
type NewEntry = Omit<AuditEntry, "id">;

/** Knows who read, exported and changed what, and when. */
export class AuditTrail {
  #waiting: NewEntry[] = [];
  #lost = 0;
  #timer: NodeJS.Timeout | null = null;
  #forgetting: NodeJS.Timeout | null = null;
  /** The last writing, which the next one waits for. */
  #last: Promise<void> = Promise.resolve();

  constructor(
    private readonly dataSource: DataSource,
    private readonly days: number,
    private readonly logger: Logger,
    private readonly now: () => number,
  ) {}

  /** Forgets what is older than the days for which it is kept, now and each hour. */
  start(): void {
    const forget = () => void this.forget().catch(() => undefined);
    forget();
    this.#forgetting = setInterval(forget, FORGET_EVERY_MS).unref();
  }

  /** Writes what waits. */
  async stop(): Promise<void> {
    if (this.#forgetting !== null) clearInterval(this.#forgetting);
    await this.flush();
  }

  /** Notes each call once it has been answered. */
  readonly watch: RequestHandler = (request, response, next) => {
    response.once("close", () => {
      const [sent = ""] = request.originalUrl.split("?", 1);
      const { path } = (request.route ?? {}) as { readonly path?: string };
      // A key that is not valid gets to no call.
      if (path === undefined && response.statusCode !== 401) return;
      const call = path?.replace(/:(\w+)/g, "{$1}") ?? sent;
      const action = `${request.method} ${call}`.slice(0, 96);
      if (NOT_AUDITED.some((each) => each.test(action))) return;
      const { caller } = contextOf(response);
      const details = notedForAudit(response);
      const isCut = !response.writableFinished;
      this.#add({
        at: this.now(),
        caller: caller?.id ?? null,
        name: caller?.name ?? null,
        address: request.ip ?? null,
        action,
        target: targetOf(call, sent),
        status: response.statusCode,
        details: isCut ? { ...details, cut: true } : details,
      });
    });
    next();
  };

  /** Writes what waits to the database; what cannot be written waits on. */
  async flush(): Promise<void> {
    if (this.#timer !== null) clearTimeout(this.#timer);
    this.#timer = null;
    this.#last = this.#last.then(() => this.#write());
    await this.#last;
  }

  async find(query: AuditQuery): Promise<readonly AuditEntry[]> {
    await this.flush();
    const { fromMs, beforeMs, caller, action, target, beforeId, limit } = query;
    const where: FindOptionsWhere<AuditEntry> = {
      ...(caller === undefined ? {} : { name: caller }),
      ...(action === undefined ? {} : { action }),
      ...(target === undefined ? {} : { target }),
      ...(beforeId === undefined ? {} : { id: LessThan(beforeId) }),
    };
    const entries = this.dataSource.getRepository(AuditEntry).createQueryBuilder("entry");
    entries.where(where).orderBy("entry.id", "DESC").limit(limit);
    if (fromMs !== undefined) entries.andWhere({ at: MoreThanOrEqual(fromMs) });
    if (beforeMs !== undefined) entries.andWhere({ at: LessThan(beforeMs) });
    return entries.getMany();
  }

  /** Deletes what is older than the days for which it is kept. */
  async forget(): Promise<void> {
    const oldest = this.now() - this.days * DAY_MS;
    for (;;) {
      const { affectedRows } = await this.dataSource.query<{ affectedRows: number }>(
        `DELETE FROM audit_entries WHERE at < ? LIMIT ${FORGET_ROWS}`,
        [oldest],
      );
      if (affectedRows < FORGET_ROWS) return;
    }
  }

  #add(entry: NewEntry): void {
    if (this.#waiting.length >= MAX_WAITING) {
      this.#lost++;
      return;
    }
    this.#waiting.push(entry);
    this.#timer ??= setTimeout(() => void this.flush(), FLUSH_MS).unref();
  }

  async #write(): Promise<void> {
    while (this.#waiting.length > 0) {
      const batch = this.#waiting.slice(0, BATCH);
      try {
        await this.dataSource.getRepository(AuditEntry).insert(batch as never);
      } catch {
        // The database is away, or its disk is full.
        this.#timer ??= setTimeout(() => void this.flush(), 10 * FLUSH_MS).unref();
        return;
      }
      this.#waiting = this.#waiting.slice(batch.length);
    }
    if (this.#lost === 0) return;
    const lost = this.#lost;
    this.#lost = 0;
    this.logger.error(
      { lost },
      "entries of the audit trail were lost: the database was away for too long",
    );
    this.#add({ ...NOBODY, at: this.now(), action: "audit", status: 503, details: { lost } });
  }
}

const NOBODY = { caller: null, name: null, address: null, target: null };

/** What a call is about: what was sent in the place of the first parameter of its path. */
function targetOf(call: string, sent: string): string | null {
  const place = call.split("/").findIndex((part) => part.startsWith("{"));
  const found = place < 0 ? undefined : sent.split("/")[place];
  return found === undefined ? null : decoded(found).slice(0, 255);
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
