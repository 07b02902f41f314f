/**
 * `npm run mutate [word …]`: flips one comparison of the compiler at a time, in every operator and
 * encoding, and runs the tests that hold it against the evaluator. A flip that no test sees is
 * reported, and the command fails. With words, only flips in lines that hold one of them are tried.
 */
import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, bootstrap } from "./bootstrap.mjs";

bootstrap(["database"]);

const FOLDER = join(ROOT, "packages/core/src/sql");
const FILES = [
  "bare-cells.ts",
  "bare-native.ts",
  "bare-numbers.ts",
  "bare-text.ts",
  "bare.ts",
  "compared.ts",
  "condition.ts",
  "counting.ts",
  "encode.ts",
  "overlap.ts",
  "own.ts",
  "ranges.ts",
  "sqlite.ts",
  "page-parts.ts",
  "page.ts",
  "nested.ts",
  "order.ts",
  "statements.ts",
  "summaries.ts",
];
/** What stands in a template of SQL or a comparison of the compiler, and what it is flipped to. */
const FLIPS = [
  [/(?<= |`)>=(?= |`)/g, ">"],
  [/(?<= |`)<=(?= |`)/g, "<"],
  [/(?<= |`)>(?= \$|`)/g, ">="],
  [/(?<= |`)<(?= \$|`)/g, "<="],
  [/ IS NOT NULL/g, " IS NULL"],
  [/ IS NULL/g, " IS NOT NULL"],
  [/ NOT LIKE /g, " LIKE "],
  [/ NOT IN /g, " IN "],
  [/`sql` AND `|(?<=sql)` AND `/g, "` OR `"],
  [/(?<=sql)` OR `/g, "` AND `"],
  [/Math\.ceil/g, "Math.floor"],
];
/** Flips that change nothing: the residual test beside them leaves the same values out. */
const EQUIVALENT = [/^\s*closed: .*before: sql`\$\{column\} <= \$\{end\}`/];
/** The quickest first: most flips are seen by them. */
const TESTS = [
  ["core", "sql/.*test"],
  ["server", "databases.test"],
  [
    "server",
    "oracle.test|records.test|parameters.test|several-tables.test|nested.test|around.test",
  ],
];

const words = process.argv.slice(2);
const survivors = [];
let tried = 0;
for (const file of FILES) {
  const path = join(FOLDER, file);
  const source = readFileSync(path, "utf8");
  const lines = source.split("\n");
  try {
    for (const [index, line] of lines.entries()) {
      if (!/sql`|Math\.ceil/.test(line)) continue;
      if (words.length > 0 && !words.some((word) => line.includes(word))) continue;
      for (const flipped of flipsOf(line)) {
        const changed = [...lines];
        changed[index] = flipped;
        writeFileSync(path, changed.join("\n"));
        tried++;
        const isSeen = testsFail();
        process.stderr.write(
          `${isSeen ? "seen" : "NOT SEEN"} ${file}:${index + 1} ${flipped.trim()}\n`,
        );
        if (!isSeen) survivors.push(`${file}:${index + 1} ${flipped.trim()}`);
      }
    }
  } finally {
    writeFileSync(path, source);
  }
}
console.log(`${tried} flips, ${survivors.length} not seen`);
for (const survivor of survivors) console.log(`  ${survivor}`);
process.exitCode = survivors.length > 0 ? 1 : 0;

/** A line with each of its comparisons flipped, one at a time. */
function flipsOf(line) {
  return FLIPS.flatMap(([pattern, replacement]) =>
    [...line.matchAll(pattern)].map(
      ({ 0: found, index }) =>
        line.slice(0, index) + replacement + line.slice(index + found.length),
    ),
  ).filter((flipped) => flipped !== line && !EQUIVALENT.some((each) => each.test(flipped)));
}

function testsFail() {
  return TESTS.some(([project, pattern]) => fails(project, pattern));
}

function fails(project, pattern) {
  const jest = join(ROOT, "node_modules/jest/bin/jest.js");
  const words = ["--selectProjects", project, "--bail", "--testPathPatterns", pattern];
  try {
    execFileSync(process.execPath, ["--experimental-vm-modules", jest, ...words], {
      cwd: ROOT,
      stdio: "ignore",
      env: { ...process.env, ORISMA_MUTATE: "1" },
    });
    return false;
  } catch {
    return true;
  }
}
