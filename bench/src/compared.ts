import { median } from "./measure.js";
import { say } from "./rivals.js";

/** The same requested of the service and of the database by hand: both give the same numbers. */
export interface Scenario {
  readonly name: string;
  readonly own: () => Promise<readonly number[]>;
  readonly hand: () => Promise<readonly number[]>;
}

/**
 * A line for each scenario: what it takes, and its ratio to what is done by hand, pass by pass in turn. Throws
 * where the two differ.
 */
export async function compared(
  scenarios: readonly Scenario[],
  passes: number,
): Promise<readonly string[]> {
  const lines: string[] = [];
  for (const { name, own, hand } of scenarios) {
    const ratios: number[] = [];
    const times: number[] = [];
    for (let count = 0; count <= passes; count++) {
      const [ours, theirs] = [await timed(own), await timed(hand)];
      if (JSON.stringify(ours.found) !== JSON.stringify(theirs.found)) {
        throw new Error(`${name}: ${ours.found.join()} is not ${theirs.found.join()}`);
      }
      if (count === 0) continue;
      times.push(ours.ms);
      ratios.push(ours.ms / theirs.ms);
    }
    const ms = median(times).toFixed(0).padStart(6);
    lines.push(`${name.padEnd(54)} ${ms} ms   of the best by hand ${median(ratios).toFixed(2)}`);
    say(name);
  }
  return lines;
}

/** What something gives, and how many milliseconds it takes. */
export async function timed(
  work: () => Promise<readonly number[]>,
): Promise<{ readonly ms: number; readonly found: readonly number[] }> {
  const begun = performance.now();
  const found = await work();
  return { ms: performance.now() - begun, found };
}
