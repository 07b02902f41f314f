import { setTimeout as sleep } from "node:timers/promises";
import type { ImportProgress, OrismaClient } from "@orisma/client";

const BAR_CHARACTERS = 24;
const LOOK_EVERY_MS = 250;

/**
 * Shows how far an import has come, on a terminal, for as long as the work takes. Ctrl-C cancels the import
 * and waits for its outcome, so that what became of it is said; a second Ctrl-C ends the command at once.
 */
export async function withProgress<T>(
  client: OrismaClient,
  source: string,
  note: (text: string) => void,
  work: Promise<T>,
): Promise<T> {
  const cancel = () => {
    note("\nCancelling; press Ctrl-C again to leave at once.\n");
    // Where nothing runs any more the outcome is on its way.
    client.cancelImport(source).catch(() => undefined);
  };
  process.once("SIGINT", cancel);
  try {
    return await shownWhile(client, source, note, work);
  } finally {
    process.off("SIGINT", cancel);
  }
}

async function shownWhile<T>(
  client: OrismaClient,
  source: string,
  note: (text: string) => void,
  work: Promise<T>,
): Promise<T> {
  if (!process.stderr.isTTY) return work;
  const ending = new AbortController();
  const shown = show(client, source, note, ending.signal);
  try {
    return await work;
  } finally {
    ending.abort();
    await shown;
    note("\r\u001b[K");
  }
}

async function show(
  client: OrismaClient,
  source: string,
  note: (text: string) => void,
  signal: AbortSignal,
): Promise<void> {
  try {
    for (;;) {
      await sleep(LOOK_EVERY_MS, undefined, { signal });
      const { running } = await client.imports(source, signal);
      if (running !== null) note(`\r\u001b[K${progressText(running)}`);
    }
  } catch {
    // The import has ended, or its progress cannot be had; its own outcome is reported elsewhere.
  }
}

const STAGES = { receiving: "sending", reading: "reading", ending: "ending" } as const;

/** `reading  ████████░░░░░░░░  48 %  480,000 records`. */
export function progressText({ stage, share, bytes, records, refused }: ImportProgress): string {
  const filled = Math.round(Math.min(1, share) * BAR_CHARACTERS);
  const bar = "█".repeat(filled) + "░".repeat(BAR_CHARACTERS - filled);
  const percent = `${Math.floor(share * 100)} %`.padStart(5);
  const counted =
    stage === "receiving"
      ? `${(bytes / 1e6).toFixed(1)} MB`
      : `${records.toLocaleString("en-GB")} records`;
  const rest = refused > 0 ? `, ${refused} rows refused` : "";
  return `${STAGES[stage].padEnd(8)} ${bar} ${percent}  ${counted}${rest}`;
}
