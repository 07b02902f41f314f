import { writeFileSync } from "node:fs";
import { DEMO_SEED, worksCsv } from "./works.js";

/** `npm run write --workspace demo -- FILE`: writes works.csv as it stands today. */
const [file = "works.csv"] = process.argv.slice(2);
writeFileSync(file, worksCsv(DEMO_SEED, Math.floor(Date.now() / 86_400_000)));
