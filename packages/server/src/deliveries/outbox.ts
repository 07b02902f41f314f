import { createWriteStream } from "node:fs";
import { open, realpath, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import { Problem } from "../http/index.js";

/** Writes files into a folder, each whole or not at all. */
export class Outbox {
  constructor(private readonly folder: string | null) {}

  /** Throws a problem where there is no folder to deliver into. */
  async check(): Promise<string> {
    if (this.folder === null) {
      throw new Problem(
        "not-allowed",
        "The service delivers no files: its operator sets ORISMA_OUTBOX to their folder",
      );
    }
    try {
      return await realpath(this.folder);
    } catch {
      throw new Problem("not-found", "The folder of ORISMA_OUTBOX is not there");
    }
  }

  /** Writes a file under a name of its own, and gives it its name once all of it has reached the disk. */
  async write(
    name: string,
    event: string,
    content: (into: NodeJS.WritableStream & import("node:stream").Writable) => Promise<void>,
  ): Promise<void> {
    const folder = await this.check();
    const fresh = join(folder, `.${event}.new`);
    try {
      const into = createWriteStream(fresh, { flags: "w", mode: 0o640, flush: true });
      const closed = new Promise<void>((resolve, reject) => {
        into.once("close", resolve);
        into.once("error", reject);
      });
      await Promise.all([content(into), closed]);
      await rename(fresh, join(folder, name));
      const handle = await open(folder, "r");
      try {
        await handle.sync();
      } finally {
        await handle.close();
      }
    } catch (error) {
      await rm(fresh, { force: true });
      throw error;
    }
  }
}

/** The name of a file of a run: a template with its date and time on the clock of the listing. */
export function fileName(template: string, wall: string): string {
  return template
    .replaceAll("{date}", wall.slice(0, 10))
    .replaceAll("{time}", wall.slice(11, 19).replaceAll(":", ""));
}
