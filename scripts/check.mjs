/** `npm run check`: types, lint, format, words, and what the lock file may not hold. */
import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, bootstrap } from "./bootstrap.mjs";

const TSC = "node_modules/@typescript/native/bin/tsc";

/** What is checked, in rows that go on side by side: the first uses one processor all the time. */
const ROWS = [
  [["lint and layers", "node_modules/eslint/bin/eslint.js", "."]],
  [
    ["words", "scripts/words.mjs"],
    ["types", TSC, "-p", "tsconfig.json"],
    ["types of the console", TSC, "-p", "packages/console/tsconfig.json"],
    ["lint with types", "node_modules/oxlint/bin/oxlint", "--type-aware", "--deny-warnings"],
    ["format", "node_modules/oxfmt/bin/oxfmt", "--check", "."],
  ],
];

/** Runs every check, each to its end; where one fails the process ends with what it says. */
export async function check() {
  checkLockFile();
  const found = await Promise.all(
    ROWS.map(async (row) => {
      const failures = [];
      for (const [what, ...command] of row) failures.push(await failureOf(what, command));
      return failures;
    }),
  );
  const failures = found.flat().filter((each) => each !== null);
  for (const text of failures) process.stderr.write(text);
  if (failures.length > 0) process.exit(1);
}

/** Runs one check, and says how long it took; gives what it printed where it failed, else null. */
function failureOf(what, command) {
  const started = performance.now();
  const child = spawn(process.execPath, command, { cwd: ROOT, stdio: ["ignore", "pipe", "pipe"] });
  let output = "";
  for (const stream of [child.stdout, child.stderr]) {
    stream.setEncoding("utf8").on("data", (text) => {
      output += text;
    });
  }
  return new Promise((resolve, reject) => {
    child.once("error", reject);
    child.once("close", (status) => {
      const seconds = ((performance.now() - started) / 1000).toFixed(1);
      const end = status === 0 ? `${seconds} s` : "failed";
      process.stderr.write(`orisma: checking ${what} … ${end}\n`);
      resolve(status === 0 ? null : `\norisma: ${what}:\n${output}\n`);
    });
  });
}

function checkLockFile() {
  const lock = readFileSync(join(ROOT, "package-lock.json"), "utf8");
  if (!/"resolved": "https?:/.test(lock)) return;
  process.stderr.write("\npackage-lock.json holds download addresses\n");
  process.exit(1);
}

if (process.argv[1] === import.meta.filename) {
  bootstrap([]);
  await check();
}
