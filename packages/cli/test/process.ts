import { execFile } from "node:child_process";
import { join } from "node:path";
import { ROOT } from "../../../test/service.js";

/** What a process of the command came to. */
export interface Ran {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** Where a process of the command runs. */
export interface Surroundings {
  /** The folder of the state of a service, by which the command finds it. */
  readonly state: string;
  /** The folder that paths start from. */
  readonly cwd?: string;
  readonly environment?: Readonly<Record<string, string>>;
  /** What comes in on standard input. */
  readonly input?: Uint8Array | string;
}

/** Runs the command as a process. */
export function runOrisma(
  words: readonly string[],
  { state, cwd, environment = {}, input }: Surroundings,
): Promise<Ran> {
  const env = { PATH: process.env.PATH ?? "", ORISMA_STATE: state, ...environment };
  const bin = join(ROOT, "packages/cli/bin/orisma.mjs");
  return new Promise((resolve) => {
    const child = execFile(process.execPath, [bin, ...words], { env, cwd }, (failure, out, err) =>
      resolve({ code: failure === null ? 0 : Number(failure.code), out, err }),
    );
    if (input !== undefined) child.stdin?.end(input);
  });
}

/** Runs the command as a process: its exit code and all that it writes. */
export async function orismaText(
  words: readonly string[],
  surroundings: Surroundings,
): Promise<{ readonly code: number; readonly text: string }> {
  const { code, out, err } = await runOrisma(words, surroundings);
  return { code, text: out + err };
}
