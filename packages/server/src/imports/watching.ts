import { IMPORT_OPTIONS, type WatchLook, type WatchState } from "@orisma/contract";
import { createReadStream } from "node:fs";
import { realpath, stat } from "node:fs/promises";
import { basename, join, sep } from "node:path";
import type { Readable } from "node:stream";
import type { Logger } from "pino";
import type { DataSource } from "typeorm";
import { Problem, parse } from "../http/index.js";
import { type Sources, type Watch } from "../sources/index.js";
import { WatchLookEntity } from "./entities.js";
import type { Fetcher, Validators } from "./fetching.js";
import type { Imports } from "./imports.js";

/** Milliseconds between two checks which watches are due. */
const TICK_MS = 1_000;
/** Files that are looked at at once: one that arrives slowly does not keep the others waiting. */
const MAX_AT_ONCE = 4;
/** Different outcomes that are kept of a source, one after the other. */
const KEPT_LOOKS = 100;
/** Characters of a problem that are kept. */
const LONGEST_PROBLEM = 500;

/** What watching works with. */
export interface WatchingParts {
  readonly sources: Sources;
  readonly imports: Imports;
  readonly fetcher: Fetcher;
  readonly dataSource: DataSource;
  /** The folder from which files may be taken, or null for none. */
  readonly inbox: string | null;
  readonly logger: Logger;
  readonly now: () => number;
}

/** A file that is there, before it is read. */
interface FoundFile {
  readonly body: Readable;
  readonly bytes: number;
  readonly name: string;
  /** By which it is known to be the same the next time. */
  readonly form: string;
}

/** What came of a look. */
type Outcome = Pick<WatchLookEntity, "outcome" | "problem" | "importNumber" | "records" | "form">;

/** Takes the files of watched sources again when they change: of the inbox, or from an address. */
export class Watching {
  /** When each source was last looked at, by the clock of the process. */
  readonly #seen = new Map<string, number>();
  readonly #running = new Map<string, Promise<WatchLook>>();
  #timer: NodeJS.Timeout | null = null;
  #tick: Promise<void> = Promise.resolve();
  readonly #ending = new AbortController();

  constructor(private readonly parts: WatchingParts) {}

  /** Begins to look. */
  start(): void {
    const next = () => {
      this.#timer = setTimeout(() => {
        this.#tick = this.#lookAtDue().finally(next);
      }, TICK_MS).unref();
    };
    next();
  }

  /** Ends looking; what is being taken is left as it was. */
  async stop(): Promise<void> {
    this.#ending.abort();
    if (this.#timer !== null) clearTimeout(this.#timer);
    await this.#tick;
    await Promise.allSettled(this.#running.values());
    if (this.#timer !== null) clearTimeout(this.#timer);
  }

  /** Throws a problem for a file outside of the inbox, or that is not there, and for a place that is not allowed. */
  async check({ file, url }: Pick<Watch, "file" | "url">): Promise<void> {
    if (url !== undefined) this.parts.fetcher.check(url);
    else await this.#pathOf(file ?? "");
  }

  /** What is watched, when it is looked at next, and what came of the looks before, the last first. */
  async describe(name: string): Promise<WatchState> {
    const { id } = this.parts.sources.needOwn(name);
    const { watch } = await this.parts.sources.describe(name);
    const found = await this.#looks().find({ where: { sourceId: id }, order: { id: "DESC" } });
    const last = found[0];
    const dueAt = (last?.lastAt ?? this.parts.now()) + (watch?.every ?? 0) * 1_000;
    return {
      watch,
      nextAt: watch === null ? null : new Date(dueAt).toISOString(),
      looks: found.map(shown),
    };
  }

  /** Looks at once, or waits for the look that is being made; throws a problem where nothing is watched. */
  async lookNow(name: string): Promise<WatchLook> {
    this.parts.sources.needOwn(name);
    const found = (await this.parts.sources.watched()).find((each) => each.name === name);
    if (found === undefined) throw new Problem("not-found", `No file of ${name} is watched`);
    return this.#running.get(name) ?? this.#run(name, found.watch);
  }

  /** What is watched from now on is looked at soon, whenever that was done last. */
  begin(name: string): void {
    this.#seen.delete(name);
  }

  /** The path of a file of the inbox. */
  async #pathOf(file: string): Promise<string> {
    if (this.parts.inbox === null) {
      throw new Problem(
        "not-allowed",
        "The service takes no files by itself: its operator sets ORISMA_INBOX to their folder",
      );
    }
    try {
      const inbox = await realpath(this.parts.inbox);
      // Links are followed first, so that none leads out of the inbox.
      const path = await realpath(join(inbox, file));
      if (path.startsWith(inbox + sep) && (await stat(path)).isFile()) return path;
    } catch {
      // Reported below, like a path that leads elsewhere: which of them it is is nobody's business.
    }
    throw new Problem("not-found", `There is no file ${file} in the inbox of the service`);
  }

  async #lookAtDue(): Promise<void> {
    try {
      for (const { name, watch } of await this.parts.sources.watched()) {
        if (this.#ending.signal.aborted || this.#running.size >= MAX_AT_ONCE) return;
        const seen = this.#seen.get(name) ?? -Infinity;
        const isDue = performance.now() - seen >= watch.every * 1_000;
        if (isDue && !this.#running.has(name)) void this.#run(name, watch).catch(() => undefined);
      }
    } catch (error) {
      this.parts.logger.error({ error }, "the watched files could not be looked at");
    }
  }

  #run(name: string, watch: Watch): Promise<WatchLook> {
    this.#seen.set(name, performance.now());
    const run = this.#lookAt(name, watch)
      .catch((error: unknown) => {
        this.parts.logger.error({ source: name, error }, "what came of a look could not be kept");
        throw error;
      })
      .finally(() => this.#running.delete(name));
    this.#running.set(name, run);
    return run;
  }

  async #lookAt(name: string, watch: Watch): Promise<WatchLook> {
    const { id } = this.parts.sources.needOwn(name);
    const [before = null] = await this.#looks().find({
      where: { sourceId: id },
      order: { id: "DESC" },
      take: 1,
    });
    const outcome = await this.#outcomeOf(name, watch, before?.form ?? null);
    const place = watch.url ?? watch.file ?? "";
    return shown(await this.#keep({ sourceId: id, place, ...outcome }, before));
  }

  async #outcomeOf(name: string, watch: Watch, before: string | null): Promise<Outcome> {
    const { logger } = this.parts;
    const what = watch.url ?? watch.file;
    try {
      const found = await this.#find(watch, before);
      if (found === null) return { ...NOTHING, outcome: "unchanged", form: before };
      const report = await this.#take(name, watch, found);
      const { records, importNumber, unchanged = false } = report;
      logger.info({ source: name, file: what, records, unchanged }, "a watched file was imported");
      const form = found.form;
      return unchanged
        ? { ...NOTHING, outcome: "unchanged", form }
        : { outcome: "imported", problem: null, importNumber, records, form };
    } catch (error) {
      const problem = reasonOf(error);
      logger.warn(
        { source: name, file: what, detail: problem, error },
        "a watched file was not imported",
      );
      return { ...NOTHING, outcome: "failed", problem: problem.slice(0, LONGEST_PROBLEM) };
    }
  }

  /** The file of a watch; null where it is the one that was taken last. */
  async #find(watch: Watch, before: string | null): Promise<FoundFile | null> {
    if (watch.url !== undefined) {
      const known = validatorsIn(before, watch);
      const fetched = await this.parts.fetcher.fetch(watch.url, known, this.#ending.signal);
      if (fetched === null) return null;
      const { body, bytes, name, validators } = fetched;
      return { body, bytes, name, form: JSON.stringify([watch, validators]) };
    }
    const path = await this.#pathOf(watch.file ?? "");
    const { size, mtimeMs } = await stat(path);
    const form = JSON.stringify([watch, size, mtimeMs]);
    if (form === before) return null;
    return { body: createReadStream(path), bytes: size, name: basename(path), form };
  }

  async #take(name: string, watch: Watch, { body, bytes, name: fileName }: FoundFile) {
    try {
      const { again, force, columns, file, edits, ...options } = parse(
        IMPORT_OPTIONS,
        watch.options,
      );
      const taken = { file: options, columns, again, force, edits };
      const sent = { ...taken, bytes, name: file ?? fileName };
      return await this.parts.imports.take(name, watch.mode, body, sent, this.#ending.signal);
    } finally {
      body.destroy();
    }
  }

  /** Keeps what came of a look, together with those before it that came to the same. */
  async #keep(
    look: Outcome & Pick<WatchLookEntity, "sourceId" | "place">,
    before: WatchLookEntity | null,
  ): Promise<WatchLookEntity> {
    const lastAt = this.parts.now();
    const { sourceId } = look;
    const isSame =
      before !== null &&
      look.outcome !== "imported" &&
      before.outcome === look.outcome &&
      before.problem === look.problem &&
      before.place === look.place;
    if (isSame) {
      return this.#looks().save(Object.assign(before, look, { lastAt, looks: before.looks + 1 }));
    }
    const kept = await this.#looks().save({ ...look, firstAt: lastAt, lastAt, looks: 1 });
    const [oldest] = await this.#looks().find({
      where: { sourceId },
      order: { id: "DESC" },
      skip: KEPT_LOOKS,
      take: 1,
    });
    if (oldest !== undefined) await this.#looks().delete({ id: oldest.id });
    return kept;
  }

  #looks() {
    return this.parts.dataSource.getRepository(WatchLookEntity);
  }
}

const NOTHING = { problem: null, importNumber: null, records: null, form: null };

/** What a server said of the file that was taken last; nothing where it was watched in another way then. */
function validatorsIn(form: string | null, watch: Watch): Validators {
  if (form === null) return {};
  const [before, validators] = JSON.parse(form) as [Watch, Validators];
  return JSON.stringify(before) === JSON.stringify(watch) ? validators : {};
}

/** Why a file could not be taken, in a sentence for whoever watches it. */
function reasonOf(error: unknown): string {
  if (error instanceof Problem) return error.detail;
  const { name, message, code } = (error ?? {}) as {
    readonly name?: string;
    readonly message?: string;
    readonly code?: string;
  };
  if (name === "AbortError") return "the service ended meanwhile";
  return [message, code].find((text) => text !== undefined && text !== "") ?? UNKNOWN_REASON;
}

const UNKNOWN_REASON = "something went wrong in the service";

function shown(look: WatchLookEntity): WatchLook {
  const { outcome, place, firstAt, lastAt, looks, problem, importNumber, records } = look;
  return {
    place,
    outcome,
    firstAt: new Date(firstAt).toISOString(),
    lastAt: new Date(lastAt).toISOString(),
    looks,
    problem,
    importNumber,
    records,
  };
}
