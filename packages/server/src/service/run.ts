import { join } from "node:path";
import { SettingsError, readSettings, settingsHelp, type Settings } from "../settings/index.js";
import { startService, type Service } from "./service.js";

/** How the process of a service is started. */
export interface RunOptions {
  readonly arguments: readonly string[];
  readonly environment: Readonly<Record<string, string | undefined>>;
  /** The project's folder: relative paths start here. */
  readonly folder: string;
  /** Imports the demo data; called once in the life of a state folder. */
  readonly loadDemo: (service: { readonly url: string; readonly key: string }) => Promise<void>;
}

const USAGE = `Usage: npm start [-- --empty] [--new-secret]

Starts Orisma on this machine, with a database of its own.

  --empty       start without the demo data
  --new-secret  begin with another secret: cursors and sessions end, keys stay
  --help        show this

Settings, from the environment:
${settingsHelp()}
`;

/**
 * Milliseconds for which requests are still accepted after SIGTERM, which is how services are replaced by
 * others: so long whoever spreads requests may take to see that this one is not ready.
 */
const GRACE_MS = 1_000;

const OPTIONS = ["--empty", "--new-secret", "--help"];
const DEMO_MARK = "demo-loaded";

/**
 * Runs the service as a process: reads settings, starts, says where it is, and ends in order at
 * SIGINT or SIGTERM. Exit codes: 0 stopped when requested, 1 failed, 2 used wrongly.
 */
export async function runService(options: RunOptions): Promise<void> {
  const unknown = options.arguments.filter((each) => !OPTIONS.includes(each));
  if (unknown.length > 0) {
    fail(2, `${unknown.join(", ")} is not an option.\n\n${USAGE}`);
    return;
  }
  if (options.arguments.includes("--help")) {
    process.stdout.write(USAGE);
    return;
  }
  // A terminal that is gone, or a file on a full disk, must not end the service.
  for (const stream of [process.stdout, process.stderr]) stream.on("error", () => undefined);
  const started = performance.now();
  let service: Service | null = null;
  let ending = false;
  const hasEnded = () => ending;
  const end = async (code: number, message: string, graceMs = 0) => {
    if (ending) return;
    ending = true;
    process.stderr.write(message);
    process.exitCode = code;
    // Asked to stop while starting: what has begun is seen through, and ended below.
    if (service === null) return;
    await service.close({ graceMs });
    process.stderr.write("orisma: ended\n");
  };
  process.on("SIGINT", () => void end(0, "\norisma: SIGINT, ending …\n"));
  process.on("SIGTERM", () => void end(0, "\norisma: SIGTERM, ending …\n", GRACE_MS));
  const start = (settings: Settings, newSecret: boolean): Promise<Service> =>
    startService({
      settings,
      newSecret,
      tell: (line) => process.stderr.write(`orisma: ${line}\n`),
      onCrash: (report) => void end(1, `orisma: ${report}\n`),
      onRestored: () => void again(settings),
      consoleFolder: join(options.folder, "packages/console/dist"),
    });
  /** Starts the service anew on the same port, with what was restored. */
  const again = async (settings: Settings) => {
    if (service === null || ending) return;
    process.stderr.write("orisma: a backup was restored, starting with it …\n");
    const port = Number(new URL(service.url).port);
    try {
      await service.close();
      service = await start({ ...settings, port }, false);
      process.stderr.write(`orisma: started with the backup, at ${service.url}\n`);
    } catch (error) {
      service = null;
      await end(1, `orisma: ${error instanceof Error ? error.message : String(error)}\n`);
    }
  };
  try {
    const settings = readSettings(options.environment, options.folder);
    service = await start(settings, options.arguments.includes("--new-secret"));
  } catch (error) {
    const usedWrongly = error instanceof SettingsError;
    fail(
      usedWrongly ? 2 : 1,
      `orisma: ${error instanceof Error ? error.message : String(error)}\n`,
    );
    return;
  }
  if (hasEnded()) {
    await service.close();
    return;
  }
  if (!options.arguments.includes("--empty") && !service.state.isMarked(DEMO_MARK)) {
    process.stderr.write("orisma: loading the demo data …\n");
    try {
      await options.loadDemo(service);
      service.state.mark(DEMO_MARK);
    } catch (error) {
      const reason = error instanceof Error ? error.message : String(error);
      await end(1, `orisma: the demo data could not be loaded: ${reason}\n`);
      return;
    }
  }
  const seconds = ((performance.now() - started) / 1000).toFixed(1);
  process.stdout.write(
    `\nOrisma answers at ${service.url} (started in ${seconds} s)\n` +
      `  console       ${service.url}/  sign-in code ${service.createCode()}, good once, within the hour\n` +
      `  command line  npx orisma --help\n` +
      `  state         ${service.state.path}\n` +
      databaseLine(service) +
      `Stop with Ctrl-C.\n\n`,
  );
}

function databaseLine({ databaseMemory }: Service): string {
  if (databaseMemory === null) return "";
  const megabytes = Math.round(databaseMemory / 1024 ** 2).toLocaleString("en");
  return `  database      private, ${megabytes} MB of memory (ORISMA_DATABASE_MEMORY)\n`;
}

function fail(code: number, message: string): void {
  process.stderr.write(message);
  process.exitCode = code;
}
