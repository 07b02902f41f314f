/** A service for one script: on a free port of loopback, in a folder of its own. */
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ROOT } from "./bootstrap.mjs";

/** Starts the service with `options` added to what it starts with; `end` closes it and removes its folder. */
export async function startScratchService(name, options = {}) {
  const { readSettings, startService } = await import("@orisma/server");
  const scratch = mkdtempSync(join(tmpdir(), `orisma-${name}-`));
  // The database server has a user of its own, and must get to its folder.
  chmodSync(scratch, 0o711);
  const service = await startService({
    // As the service reads them, with every default: settings that come later are here too.
    settings: readSettings({ ORISMA_PORT: "0", ORISMA_STATE: "state" }, scratch),
    tell: (line) => process.stderr.write(`${line}\n`),
    onCrash: (report) => process.stderr.write(`${report}\n`),
    consoleFolder: join(ROOT, "packages/console/dist"),
    ...options,
  });
  const end = async () => {
    await service.close();
    rmSync(scratch, { recursive: true, force: true });
  };
  return { service, scratch, end };
}
