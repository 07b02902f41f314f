import { createHash } from "node:crypto";
import { createReadStream, existsSync, statSync } from "node:fs";
import { open, rename, rm } from "node:fs/promises";
import { dirname } from "node:path";
import { Readable } from "node:stream";
import { setTimeout as sleep } from "node:timers/promises";
import { createGunzip } from "node:zlib";
import type { AuditDetails, Finding, OrismaClient } from "@orisma/client";
import type { Command } from "commander";
import { examples, listText, toJson, type Context, type ListFormat } from "../context/context.js";
import { UsageError } from "../context/failure.js";

/** `orisma backup`, `orisma restore` and `orisma doctor`. */
export function addUpkeep(command: Command, context: Context): void {
  addBackup(command, context);
  addRestore(command, context);
  addDoctor(command, context);
  addAudit(command, context);
}

interface BackupOptions {
  readonly withSecret?: boolean;
  readonly force?: boolean;
}

function addBackup(command: Command, context: Context): void {
  command
    .command("backup")
    .description("Write a backup of all that the service keeps to a file, while it runs")
    .argument("<file>")
    .option(
      "--with-secret",
      "with the secret, by which passwords of attached databases can be read",
    )
    .option("--force", "replace the file if there is one")
    .addHelpText("after", examples("orisma backup orisma-2027-01-31.gz"))
    .action(async (file: string, { withSecret = false, force = false }: BackupOptions) => {
      if (existsSync(file) && !force) {
        throw new UsageError(`${file} is there already: --force replaces it`);
      }
      const bytes = await writeBackup(context.client(), file, withSecret);
      const secret = withSecret
        ? "It holds the secret: keep it as safe as the service."
        : "It does not hold the secret: restored elsewhere, attached databases need their passwords again.";
      await context.print(`${file}: ${bytes.toLocaleString("en")} bytes, checked\n${secret}\n`);
    });
}

/** Writes a backup beside the file first, so that one that is not whole never has its name. */
async function writeBackup(client: OrismaClient, path: string, secret: boolean): Promise<number> {
  const fresh = `${path}.part`;
  const file = await open(fresh, "w", 0o600);
  let bytes = 0;
  try {
    try {
      for await (const piece of await client.backup({ secret })) {
        await file.write(piece);
        bytes += piece.length;
      }
      await file.sync();
    } finally {
      await file.close();
    }
    await mustBeWhole(fresh);
    await rename(fresh, path);
  } catch (error) {
    await rm(fresh, { force: true });
    throw error;
  }
  const folder = await open(dirname(path), "r");
  try {
    await folder.sync();
  } finally {
    await folder.close();
  }
  return bytes;
}

/** Reads a backup again from the disk, and compares it with the check sum on its last line. */
async function mustBeWhole(path: string): Promise<void> {
  const hash = createHash("sha256");
  let tail = Buffer.alloc(0);
  for await (const piece of createReadStream(path).pipe(createGunzip())) {
    const joined = Buffer.concat([tail, piece as Buffer]);
    const safe = Math.max(0, joined.length - LONGEST_LAST_LINE);
    hash.update(joined.subarray(0, safe));
    tail = Buffer.from(joined.subarray(safe));
  }
  const at = tail.lastIndexOf("\n", tail.length - 2) + 1;
  const sum = hash.update(tail.subarray(0, at)).digest("hex");
  if (tail.subarray(at).toString().includes(`"sha256":"${sum}"`)) return;
  throw new Error("the backup did not arrive whole; no file was written");
}

const LONGEST_LAST_LINE = 1_024;

function addRestore(command: Command, context: Context): void {
  command
    .command("restore")
    .description("Restore a backup into an empty service, which starts anew with it")
    .argument("<file>")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "ORISMA_STATE=restored npm start -- --empty",
        "ORISMA_STATE=restored orisma restore orisma-2027-01-31.gz",
      ),
    )
    .action(async (file: string, options: { readonly json?: boolean }) => {
      if (!existsSync(file) || !statSync(file).isFile()) {
        throw new UsageError(`${file} is not a file`);
      }
      const body = Readable.toWeb(createReadStream(file)) as ReadableStream;
      const restored = await context.client().restore(body);
      await ready(context);
      const { createdAt, hasSecret } = restored;
      const secret = hasSecret
        ? ""
        : "Attached databases need their passwords again: orisma databases add\n";
      const text = `restored: all as it was on ${createdAt}; the service has started with it\n${secret}`;
      await context.print(options.json === true ? toJson(restored) : text);
    });
}

/** Waits until the service answers again: on the same address, with a key of its own. */
async function ready(context: Context): Promise<void> {
  // It goes on answering for a moment after it has said that it will start anew.
  await sleep(RESTART_MS);
  for (let tries = 0; tries < MAX_TRIES; tries++) {
    // Where it is and with which key is known again only once it has started.
    const asked = async () => context.client().sources();
    const isThere = await asked().then(
      () => true,
      () => false,
    );
    if (isThere) return;
    await sleep(RESTART_MS);
  }
  throw new Error("the backup was restored, and the service did not start with it: see its log");
}

const RESTART_MS = 250;
const MAX_TRIES = 240;

function addDoctor(command: Command, context: Context): void {
  command
    .command("doctor")
    .description("Say what is wrong with this installation, and what to do about it")
    .option("--json", "print the service's answer")
    .addHelpText("after", examples("orisma doctor"))
    .action(async (options: { readonly json?: boolean }) => {
      const findings = await context.client().doctor();
      await context.print(options.json === true ? toJson(findings) : findingsText(findings));
      const problems = findings.filter(({ level }) => level === "problem").length;
      if (problems > 0) throw new Error(`${problems} ${problems === 1 ? "problem" : "problems"}`);
    });
}

interface AuditOptions extends ListFormat {
  readonly from?: string;
  readonly before?: string;
  readonly caller?: string;
  readonly action?: string;
  readonly target?: string;
  readonly limit: string;
}

function addAudit(command: Command, context: Context): void {
  command
    .command("audit")
    .description("Show who read, exported and changed what, and when; the latest first")
    .option("--from <instant>", "only from this date or instant on")
    .option("--before <instant>", "only before this date or instant")
    .option("--caller <name>", "only what the key of this name did")
    .option("--action <call>", "only this call, such as 'PUT /v1/listings/{name}'")
    .option("--target <name>", "only what is about this listing or source")
    .option("--limit <entries>", "entries at most, 1 to 1000", "100")
    .option("--json", "print the service's answer")
    .option("--csv", "print CSV")
    .addHelpText(
      "after",
      examples(
        "orisma audit --caller website --from 2027-01-31",
        "orisma audit --target works-raised --csv",
      ),
    )
    .action(async ({ json, csv, limit, ...query }: AuditOptions) => {
      const { entries, next } = await context.client().audit({ ...query, limit: Number(limit) });
      const rows = entries.map(({ at, name, address, action, target, status, details }) => [
        at,
        name ?? "nobody",
        address ?? "",
        action,
        target ?? "",
        String(status),
        details?.records === undefined ? "" : String(details.records),
        details === null ? "" : boundsText(details),
      ]);
      const headings = ["at", "caller", "address", "call", "about", "status", "records", "bounds"];
      const format = {
        ...(json === undefined ? {} : { json }),
        ...(csv === undefined ? {} : { csv }),
      };
      await context.print(listText(format, entries, headings, rows));
      if (next !== null)
        context.note(`There are more: --limit takes 1000, --before the last time\n`);
    });
}

/** The windows that were applied, and the parameters whose values are not kept. */
function boundsText({ windows = [], masked = [] }: AuditDetails): string {
  const bounds = windows.map((each) => {
    const { column, canonical } = each as {
      readonly column?: unknown;
      readonly canonical?: unknown;
    };
    return `${String(column)} ${String(canonical)}`;
  });
  return [...bounds, ...masked.map((name) => `${name}=…`)].join(", ");
}

function findingsText(findings: readonly Finding[]): string {
  return findings
    .map(({ level, what, advice }) => {
      const line = `${level.padEnd(LEVEL_WIDTH)}${what}\n`;
      return advice === undefined ? line : `${line}${" ".repeat(LEVEL_WIDTH)}${advice}\n`;
    })
    .join("");
}

const LEVEL_WIDTH = "problem".length + 2;
