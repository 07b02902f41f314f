/** `npm start`: brings the machine up to date, then runs the service in this process. */
import { ROOT, bootstrap } from "./bootstrap.mjs";

bootstrap(process.env.ORISMA_DATABASE_URL ? [] : ["database"]);
const { runService } = await import("@orisma/server");
const { loadDemo } = await import("@orisma/demo");
await runService({
  arguments: process.argv.slice(2),
  environment: process.env,
  folder: ROOT,
  loadDemo,
});
