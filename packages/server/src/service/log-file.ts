import { once } from "node:events";
import { pino, type Logger } from "pino";
import { within } from "../database/index.js";
import { errorForLog } from "../http/index.js";

/** The log is written in blocks, which costs a busy service far less than lines. */
const BLOCK_BYTES = 8_192;
const FLUSH_MS = 500;
/** Bytes that wait to be written at most: lines beyond are dropped, and counted. */
const MAX_WAITING_BYTES = 1_048_576;
/** Milliseconds for which the end of the service waits for the log. */
const END_LIMIT_MS = 2_000;

/** A log that goes to a file, and neither blocks nor ends the process where that cannot be written. */
export interface LogFile {
  readonly logger: Logger;
  /** Writes what waits, as far as it can be written in time. */
  close(): Promise<void>;
}

/** Opens the log; throws where its file cannot be opened. */
export async function openLog(path: string): Promise<LogFile> {
  const file = pino.destination({
    dest: path,
    sync: false,
    minLength: BLOCK_BYTES,
    maxLength: MAX_WAITING_BYTES,
    periodicFlush: FLUSH_MS,
  });
  await once(file, "ready");
  const logger = pino(
    {
      base: null,
      timestamp: pino.stdTimeFunctions.isoTime,
      serializers: { error: errorForLog, err: errorForLog },
    },
    file,
  );
  let dropped = 0;
  // What failed is kept, and tried again with the next block.
  file.on("error", () => undefined);
  file.on("drop", () => dropped++);
  file.on("write", () => {
    if (dropped === 0) return;
    const lines = dropped;
    dropped = 0;
    logger.warn({ lines }, "lines of the log were dropped while it could not be written");
  });
  return {
    logger,
    async close() {
      const flushed = new Promise<void>((resolve) => file.flush(() => resolve()));
      const late = () => new Error("the log could not be written in time");
      await within(END_LIMIT_MS, flushed, late).catch(() => undefined);
      // Waiting for the end would write without an end where the disk is full.
      file.destroy();
    },
  };
}
