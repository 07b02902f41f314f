import { existsSync, readFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { OrismaClient } from "@orisma/client";
import { UsageError } from "./failure.js";

/** Where the command line runs: environment and folder, given so that nothing else is looked at. */
export interface Surroundings {
  readonly environment: Readonly<Record<string, string | undefined>>;
  readonly folder: string;
}

/**
 * Finds the service: `ORISMA_URL` and `ORISMA_KEY`, else the `client.json` that a started
 * service keeps in `ORISMA_STATE`, or in `.orisma` of this folder or one above it.
 */
export function connect({ environment, folder }: Surroundings): OrismaClient {
  const { ORISMA_URL: url, ORISMA_KEY: key, ORISMA_STATE: state } = environment;
  if (url !== undefined && url !== "") {
    return new OrismaClient({
      url: url.replace(/\/+$/, ""),
      ...(key === undefined || key === "" ? {} : { key }),
    });
  }
  const path = state ? join(resolve(folder, state), "client.json") : findAbove(folder);
  if (path === null || !existsSync(path)) {
    throw new UsageError(
      "no started service was found here; run npm start, or set ORISMA_URL and ORISMA_KEY",
    );
  }
  const found = JSON.parse(readFileSync(path, "utf8")) as { url: string; key: string };
  return new OrismaClient({ url: found.url, key: key ?? found.key });
}

function findAbove(folder: string): string | null {
  for (let place = resolve(folder); ; place = dirname(place)) {
    const path = join(place, ".orisma", "client.json");
    if (existsSync(path)) return path;
    if (place === dirname(place)) return null;
  }
}
