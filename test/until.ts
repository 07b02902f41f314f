import { setTimeout as sleep } from "node:timers/promises";

/** Milliseconds after which what is waited for does not come about: a slow machine needs many. */
const LIMIT_MS = 300_000;

/** Waits until something holds, and fails where it does not come about. */
export async function until(holds: () => boolean | Promise<boolean>): Promise<void> {
  const begun = performance.now();
  while (!(await holds())) {
    if (performance.now() - begun > LIMIT_MS)
      throw new Error(`it did not come about: ${String(holds)}`);
    await sleep(20);
  }
}
