/**
 * `npm run bench`: measures, as ratios against hand-written baselines in the same run. With a
 * name it runs that scenario only. BENCH_ROWS, BENCH_PASSES and BENCH_SECONDS change its size.
 */
import { join } from "node:path";
import { ROOT, bootstrap, node, run, timed } from "./bootstrap.mjs";

const SCENARIOS = {
  records: "bench/dist/records/main.js",
  reading: "bench/dist/reading/main.js",
  windows: "bench/dist/windows/main.js",
  filters: "bench/dist/filters/main.js",
  recurring: "bench/dist/recurring/main.js",
  encodings: "bench/dist/encodings/main.js",
  exports: "bench/dist/exports/main.js",
  around: "bench/dist/around/main.js",
  import: "bench/dist/import/main.js",
  size: "bench/dist/size/main.js",
  load: "bench/dist/load/main.js",
  console: "bench/dist/console/main.js",
};

const wanted = process.argv.slice(2);
const needsBrowser = wanted.length === 0 || wanted.includes("console");
bootstrap(needsBrowser ? ["database", "browser"] : ["database"]);
timed("building the bench", () =>
  node("@typescript/native/bin/tsc", ["-b", "bench/tsconfig.build.json"]),
);
for (const [name, script] of Object.entries(SCENARIOS)) {
  if (wanted.length === 0 || wanted.includes(name)) run([], process.execPath, [join(ROOT, script)]);
}
