import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { closuresJson } from "./closures.js";
import { gaugesTable, gaugesTsv } from "./gauges.js";
import { inspectionsXlsx } from "./inspections.js";
import { GAUGE_DAYS } from "./load.js";
import { locksCsv } from "./locks.js";
import { PASSAGES, passagesNdjson } from "./passages.js";
import { DEMO_SEED } from "./places.js";
import { worksCsv } from "./works.js";

/**
 * `npm run write --workspace demo -- FOLDER [PASSAGES]`: writes the trust's files as they stand
 * today, with any number of passages.
 */
const [folder = ".", count = String(PASSAGES)] = process.argv.slice(2);
const today = Math.floor(Date.now() / 86_400_000);
mkdirSync(folder, { recursive: true });
const write = (name: string, content: string | Uint8Array) => {
  writeFileSync(join(folder, name), content);
};
write("works.csv", worksCsv(DEMO_SEED, today));
write("inspections.xlsx", await inspectionsXlsx(DEMO_SEED, today));
write("closures.json", closuresJson(DEMO_SEED, today));
write("locks.csv", locksCsv(DEMO_SEED));
write("passages.ndjson", "");
for (const piece of passagesNdjson(DEMO_SEED, today, Number(count))) {
  writeFileSync(join(folder, "passages.ndjson"), piece, { flag: "a" });
}
for (let day = today - GAUGE_DAYS + 1; day <= today; day++) {
  write(`${gaugesTable(day)}.tsv`, gaugesTsv(DEMO_SEED, day));
}
