/** `npm run check`: types, lint, format, and what the lock file may not hold. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, bootstrap, node, run, timed } from "./bootstrap.mjs";

/** Runs every check; the first that fails ends the process with its output. */
export function check() {
  timed("checking types", () => {
    node("typescript/bin/tsc", ["-p", "tsconfig.json"], { quiet: true });
    node("typescript/bin/tsc", ["-p", "packages/console/tsconfig.json"], { quiet: true });
  });
  timed("checking lint and layers", () => node("eslint/bin/eslint.js", ["."], { quiet: true }));
  timed("checking format", () => {
    node("prettier/bin/prettier.cjs", ["--check", "--log-level", "warn", "."], { quiet: true });
  });
  timed("checking what is made", () =>
    run([], process.execPath, [join(ROOT, "scripts/contract.mjs"), "--check"], { quiet: true }),
  );
  timed("checking the lock file", checkLockFile);
}

function checkLockFile() {
  const lock = readFileSync(join(ROOT, "package-lock.json"), "utf8");
  if (!/"resolved": "https?:/.test(lock)) return;
  process.stderr.write("\npackage-lock.json holds download addresses\n");
  process.exit(1);
}

if (process.argv[1] === import.meta.filename) {
  bootstrap([]);
  check();
}
