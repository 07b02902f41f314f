/**
 * `npm test`: brings the machine up to date, checks types, lint and format, then runs every
 * suite, and the core's again in other time zones, which must change nothing.
 *
 * With arguments it hands them to the test runner and leaves the rest out:
 * `npm test -- --selectProjects core`.
 */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
import { ROOT, bootstrap } from "./bootstrap.mjs";
import { check } from "./check.mjs";

/** Zones of the process in which the core must give the same results as in UTC. */
const OTHER_ZONES = ["Asia/Kolkata", "America/St_Johns", "Pacific/Apia"];

const scratch = mkdtempSync(join(tmpdir(), "orisma-results-"));
const words = process.argv.slice(2);
const started = performance.now();

bootstrap(["database", "browser", "trace", "units"]);
if (words.length === 0) await check();
const runs = [jest(words, "UTC")];
if (words.length === 0) {
  for (const zone of OTHER_ZONES) runs.push(jest(["--selectProjects", "core"], zone));
}
rmSync(scratch, { recursive: true, force: true });

const sum = (field) => runs.reduce((total, run) => total + (run[field] ?? 0), 0);
const failed = sum("numFailedTests") + sum("numRuntimeErrorTestSuites");
const minutes = ((performance.now() - started) / 60_000).toFixed(1);
// Once more at the end, where a long output is read first.
for (const name of runs.flatMap(failures)) process.stderr.write(`orisma: failed: ${name}\n`);
process.stderr.write(`orisma: tested in ${minutes} minutes\n`);
process.stdout.write(`${sum("numPassedTests")} passed, ${failed} failed\n`);
process.exitCode = failed === 0 && runs.every(({ status }) => status === 0) ? 0 : 1;

function jest(more, zone) {
  process.stderr.write(`orisma: tests, in a process of zone ${zone}\n`);
  const results = join(scratch, `${zone.replace("/", "-")}.json`);
  const done = spawnSync(
    process.execPath,
    [
      "--experimental-vm-modules",
      "--no-warnings",
      join(ROOT, "node_modules/jest/bin/jest.js"),
      "--json",
      `--outputFile=${results}`,
      ...more,
    ],
    { cwd: ROOT, stdio: ["ignore", "ignore", "inherit"], env: { ...process.env, TZ: zone } },
  );
  try {
    return { ...JSON.parse(readFileSync(results, "utf8")), status: done.status };
  } catch {
    return { status: 1, numRuntimeErrorTestSuites: 1 };
  }
}

function failures({ testResults = [] }) {
  return testResults.flatMap(({ name, status, assertionResults }) => {
    const file = relative(ROOT, name);
    const tests = assertionResults.filter((each) => each.status === "failed");
    if (tests.length === 0) return status === "failed" ? [file] : [];
    return tests.map(({ fullName }) => `${file}: ${fullName}`);
  });
}
