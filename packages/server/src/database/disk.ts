import { stat, statfs } from "node:fs/promises";

/** Nothing more can be written; what is stored can still be read. The message is for whoever asked. */
export class DiskFull extends Error {}

/** Bytes that are left free on a disk, for what is written beside an import. */
const RESERVE_BYTES = 64 * 1024 ** 2;
/** Bytes of tables and indexes that a byte of a file comes to. */
const TABLE_FACTOR = 4;
/** A disk with less than this share free is warned of. */
const LOW_SHARE = 0.05;
const LOOK_EVERY_MS = 60_000;

/** "Disk full", "The table is full". */
const FULL_ERRORS = new Set([1021, 1114]);
const FULL_MESSAGE = /\b(?:errno|errcode): "?28\b|no space left on device/i;
/** No space, and no space within a user's share. */
const FULL_CODES = new Set(["ENOSPC", "EDQUOT"]);

/** Whether a failure of the system or of the database says that the disk is full. */
export function isDiskFull(error: unknown): boolean {
  if (error instanceof DiskFull) return true;
  if (!(error instanceof Error)) return false;
  const { code, errno } = error as { readonly code?: string; readonly errno?: number };
  if (FULL_CODES.has(code ?? "") || FULL_ERRORS.has(errno ?? 0)) return true;
  return FULL_MESSAGE.test(error.message);
}

/** What is said where nothing more is known. */
export const DISK_FULL =
  "The disk is full: nothing was changed. Free disk space, then try again; records can still be read";

/** Where a service writes, and whom it tells that there is little space left. */
export interface Disks {
  /** The folder in which files arrive. */
  readonly state: string;
  /** The folder of the tables; null where they are another server's. */
  readonly tables: string | null;
  readonly warn: (line: string) => void;
}

/** The space on the disks of a service. */
export class DiskSpace {
  #isLow = false;
  #timer: NodeJS.Timeout | null = null;

  constructor(private readonly disks: Disks) {}

  /** Looks once a minute whether a disk is nearly full, and says so when it becomes so. */
  watch(): void {
    const look = () => void this.#look().catch(() => undefined);
    look();
    this.#timer = setInterval(look, LOOK_EVERY_MS).unref();
  }

  stop(): void {
    if (this.#timer !== null) clearInterval(this.#timer);
  }

  /** Bytes that can still be written where there is least space. */
  async free(): Promise<number> {
    return Math.min(...(await this.#spaces()).map(({ free }) => free));
  }

  /** Throws {@link DiskFull} where a file of so many bytes and its records do not fit. */
  async mustFit(bytes: number): Promise<void> {
    const { state, tables } = this.disks;
    const needs = new Map([[state, bytes]]);
    if (tables !== null) {
      const place = (await areOnOneDisk(state, tables)) ? state : tables;
      needs.set(place, (needs.get(place) ?? 0) + bytes * TABLE_FACTOR);
    }
    for (const [folder, needed] of needs) {
      const { free } = await spaceOf(folder);
      if (free >= needed + RESERVE_BYTES) continue;
      throw new DiskFull(
        `The disk is full: the file needs about ${megabytes(needed + RESERVE_BYTES)}, and ` +
          `${megabytes(free)} are free. Nothing was imported. Free disk space, then try again`,
      );
    }
  }

  async #spaces() {
    const { state, tables } = this.disks;
    return Promise.all([state, ...(tables === null ? [] : [tables])].map(spaceOf));
  }

  async #look(): Promise<void> {
    const low = (await this.#spaces()).find(
      ({ free, size }) => free < Math.max(size * LOW_SHARE, RESERVE_BYTES),
    );
    if (low !== undefined && !this.#isLow) {
      this.disks.warn(
        `only ${megabytes(low.free)} of disk space are free; once they are used, files cannot be imported`,
      );
    }
    this.#isLow = low !== undefined;
  }
}

async function spaceOf(folder: string): Promise<{ readonly free: number; readonly size: number }> {
  const { bavail, blocks, bsize } = await statfs(folder);
  return { free: bavail * bsize, size: blocks * bsize };
}

async function areOnOneDisk(one: string, other: string): Promise<boolean> {
  const [a, b] = await Promise.all([stat(one), stat(other)]);
  return a.dev === b.dev;
}

function megabytes(bytes: number): string {
  return `${Math.ceil(bytes / 1024 ** 2).toLocaleString("en")} MB`;
}
