import type { WatchLook, WatchState } from "@orisma/client";
import type { Command } from "commander";
import { examples, toJson, type Context } from "../context/context.js";
import { drawTable } from "../output/table.js";

interface WatchOptions {
  readonly every: string;
  readonly mode: string;
  readonly now?: boolean;
  readonly stop?: boolean;
  readonly json?: boolean;
}

/** `orisma sources watch`. */
export function addWatch(sources: Command, context: Context): void {
  sources
    .command("watch")
    .description("Import a file again whenever it changes, and show what came of it")
    .argument("<source>")
    .argument("[file]", "a path within the service's inbox, or an address that begins with https")
    .option("--every <seconds>", "seconds between two checks", "60")
    .option("--mode <mode>", "replace, append or update", "replace")
    .option("--now", "check now")
    .option("--stop", "stop watching")
    .option("--json", "print the service's answer")
    .addHelpText(
      "after",
      examples(
        "orisma sources watch works works.csv --every 300",
        "orisma sources watch works https://files.brindle.example/works.csv --every 3600",
        "orisma sources watch works",
      ),
    )
    .action(async (source: string, file: string | undefined, options: WatchOptions) => {
      const client = context.client();
      const print = (answer: unknown, text: string) =>
        context.print(options.json === true ? toJson(answer) : text);
      if (options.stop === true) {
        await print(await client.watchFile(source, null), `${source} is not watched any more\n`);
        return;
      }
      if (file !== undefined) {
        const place = /^https?:/i.test(file) ? { url: file } : { file };
        const { every, mode } = options;
        const watch = { ...place, every: Number(every), mode: mode as "replace" };
        const answer = await client.watchFile(source, watch);
        if (options.now !== true) {
          await print(answer, `${nameOf(watch)} is imported into ${source} whenever it changes\n`);
          return;
        }
      }
      if (options.now === true) {
        const look = await client.lookNow(source);
        // A file that could not be taken ends the command as a failure.
        if (look.outcome === "failed") throw new Error(lookText(look));
        await print(look, `${lookText(look)}\n`);
        return;
      }
      const state = await client.watch(source);
      await print(state, stateText(source, state));
    });
}

function nameOf({ file, url }: { readonly file?: string; readonly url?: string }): string {
  return url ?? `${file ?? ""} of the inbox`;
}

function stateText(source: string, { watch, nextAt, looks }: WatchState): string {
  const what =
    watch === null
      ? `Nothing is watched for ${source}.\n`
      : `${nameOf(watch)} is imported into ${source} whenever it changes (${watch.mode}); ` +
        `checked every ${watch.every} seconds, next ${shownTime(nextAt ?? "")} UTC\n`;
  if (looks.length === 0) return what;
  const headings = [
    { heading: "from (UTC)" },
    { heading: "to" },
    { heading: "checks", right: true },
    { heading: "what came of it", whole: true },
  ];
  const rows = looks.map((look) => [
    shownTime(look.firstAt),
    shownTime(look.lastAt),
    String(look.looks),
    lookText(look),
  ]);
  return `${what}\n${drawTable(headings, rows)}`;
}

function lookText({ outcome, problem, records, importNumber }: WatchLook): string {
  switch (outcome) {
    case "imported":
      return `imported, ${records ?? 0} records (import ${importNumber ?? ""})`;
    case "unchanged":
      return "the same as before";
    case "failed":
      return `not imported: ${problem ?? ""}`;
  }
}

function shownTime(text: string): string {
  return text.slice(0, 19).replace("T", " ");
}
