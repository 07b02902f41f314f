import { type Sources, type Watch } from "../sources/index.js";
import { IMPORT_OPTIONS } from "@orisma/contract";
import { createReadStream } from "node:fs";
import { realpath, stat } from "node:fs/promises";
import { basename, join, sep } from "node:path";
import type { Logger } from "pino";
import { Problem, parse } from "../http/index.js";
import type { Imports } from "./imports.js";

/** Milliseconds between two looks at which watches are due. */
const TICK_MS = 1_000;

/** Takes the files of watched sources again when they change. */
export class Watching {
  /** When each source was last looked at, and what its file was then. */
  readonly #seen = new Map<string, { readonly at: number; readonly form: string }>();
  #timer: NodeJS.Timeout | null = null;
  #tick: Promise<void> = Promise.resolve();
  readonly #ending = new AbortController();

  constructor(
    private readonly sources: Sources,
    private readonly imports: Imports,
    /** The folder from which files may be taken, or null for none. */
    private readonly inbox: string | null,
    private readonly logger: Logger,
  ) {}

  /** Begins to look. */
  start(): void {
    if (this.inbox === null) return;
    const next = () => {
      this.#timer = setTimeout(() => {
        this.#tick = this.#look().finally(next);
      }, TICK_MS).unref();
    };
    next();
  }

  /** Ends looking; what is being taken is left as it was. */
  async stop(): Promise<void> {
    this.#ending.abort();
    if (this.#timer !== null) clearTimeout(this.#timer);
    await this.#tick;
    if (this.#timer !== null) clearTimeout(this.#timer);
  }

  /** The file of a watch; throws a problem for one outside of the inbox, or that is not there. */
  async check({ file }: Pick<Watch, "file">): Promise<string> {
    if (this.inbox === null) {
      throw new Problem(
        "not-allowed",
        "The service takes no files by itself: its operator sets ORISMA_INBOX to their folder",
      );
    }
    try {
      const inbox = await realpath(this.inbox);
      // Links are followed first, so that none leads out of the inbox.
      const path = await realpath(join(inbox, file));
      if (path.startsWith(inbox + sep) && (await stat(path)).isFile()) return path;
    } catch {
      // Reported below, like a path that leads elsewhere: which of them it is is nobody's business.
    }
    throw new Problem("not-found", `There is no file ${file} in the inbox of the service`);
  }

  async #look(): Promise<void> {
    try {
      for (const { name, watch } of await this.sources.watched()) {
        if (this.#ending.signal.aborted) return;
        await this.#lookAt(name, watch);
      }
    } catch (error) {
      this.logger.error({ error }, "the watched files could not be looked at");
    }
  }

  async #lookAt(name: string, watch: Watch): Promise<void> {
    const now = performance.now();
    const seen = this.#seen.get(name);
    if (seen !== undefined && now - seen.at < watch.every * 1_000) return;
    this.#seen.set(name, { at: now, form: seen?.form ?? "" });
    try {
      const path = await this.check(watch);
      const { size, mtimeMs } = await stat(path);
      const form = JSON.stringify([watch, size, mtimeMs]);
      if (form === seen?.form) return;
      await this.#take(name, watch, path, size);
      this.#seen.set(name, { at: now, form });
    } catch (error) {
      const detail =
        error instanceof Problem ? error.detail : "something went wrong in the service";
      this.logger.warn(
        { source: name, file: watch.file, detail, error },
        "a watched file was not imported",
      );
    }
  }

  async #take(name: string, watch: Watch, path: string, bytes: number): Promise<void> {
    const { again, force, columns, file, edits, ...options } = parse(IMPORT_OPTIONS, watch.options);
    const taken = { file: options, columns, again, force, edits };
    const sent = { ...taken, bytes, name: file ?? basename(path) };
    const body = createReadStream(path);
    try {
      const report = await this.imports.take(name, watch.mode, body, sent, this.#ending.signal);
      const { records, unchanged = false } = report;
      this.logger.info(
        { source: name, file: watch.file, records, unchanged },
        "a watched file was imported",
      );
    } finally {
      body.destroy();
    }
  }
}
