import { rmSync } from "node:fs";
import { dirname } from "node:path";

export default async function stop(): Promise<void> {
  const engine = globalThis.orismaTestEngine;
  if (engine === undefined) return;
  globalThis.orismaTestEngine = undefined;
  await engine.stop();
  const scratch = engine.folder.startsWith("/var/lib/") ? engine.folder : dirname(engine.folder);
  rmSync(scratch, { recursive: true, force: true });
}
