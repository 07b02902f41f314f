import { rmSync } from "node:fs";
import { dirname } from "node:path";

export default async function stop(): Promise<void> {
  const engine = globalThis.orismaTestEngine;
  if (engine === undefined) return;
  globalThis.orismaTestEngine = undefined;
  await engine.stop();
  rmSync(dirname(engine.folder), { recursive: true, force: true });
}
