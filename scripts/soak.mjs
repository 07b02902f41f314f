/**
 * `npm run soak`: twenty minutes of random traffic while databases are killed and frozen, disks fill and
 * clients hang. SOAK_SECONDS and SOAK_SEED change its length, and repeat one.
 */
import { run } from "./bootstrap.mjs";

const { SOAK_SECONDS = "1200" } = process.env;
run([], "npm", ["test", "--", "--selectProjects", "server", "--testPathPatterns", "test/soak"], {
  env: { SOAK_SECONDS },
});
