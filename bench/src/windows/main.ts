/**
 * Reading and resolving a rolling window in the core, against the same through the zoned types
 * of the Temporal polyfill, with the zone warm in both.
 */
import { cpus, release } from "node:os";
import { epochMs, findZone, readWindow, resolveWindow, type EpochMs } from "@orisma/core/internal";
import { Temporal } from "temporal-polyfill";
import { median } from "../measure.js";

const TIMES = Number(process.env.BENCH_ROWS ?? 20_000);
const PASSES = Number(process.env.BENCH_PASSES ?? 7);
const FIRST = Date.UTC(2024, 0, 1);
/** As-of instants, spread over two years. */
const requested = Array.from({ length: TIMES }, (_, index) => epochMs(FIRST + index * 3_157_000));
const found = findZone("Europe/London");
if (!found.ok) throw new Error("the zone is unknown");
const zone = found.value;

function byOrisma(asOf: EpochMs): readonly [number, number] {
  const read = readWindow("month-1/now");
  if (!read.ok) throw new Error("it cannot be read");
  const resolved = resolveWindow(read.value.window, { asOf, zone });
  const [interval] = resolved.ok ? resolved.value.intervals : [];
  return [interval?.start?.instant ?? NaN, interval?.end?.instant ?? NaN];
}

function byTemporal(asOf: number): readonly [number, number] {
  const now = Temporal.Instant.fromEpochMilliseconds(asOf).toZonedDateTimeISO("Europe/London");
  const start = now.subtract({ months: 1 }).with({ day: 1 }).startOfDay();
  return [start.epochMilliseconds, now.epochMilliseconds];
}

for (const asOf of requested) {
  if (String(byOrisma(asOf)) !== String(byTemporal(asOf)))
    throw new Error(`they differ at ${asOf}`);
}
const times = { orisma: [] as number[], temporal: [] as number[] };
for (let pass = 0; pass < PASSES; pass++) {
  for (const [name, resolve] of [
    ["orisma", byOrisma],
    ["temporal", byTemporal],
  ] as const) {
    const started = performance.now();
    for (const asOf of requested) resolve(asOf);
    times[name].push(((performance.now() - started) * 1_000) / TIMES);
  }
}
const ratios = times.temporal.map((time, index) => time / (times.orisma[index] ?? NaN));
process.stdout.write(
  [
    `Reading and resolving month-1/now in Europe/London, ${TIMES} instants; ${PASSES} passes in turn, medians.`,
    `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}.`,
    "",
    `orisma     ${median(times.orisma).toFixed(1)} µs`,
    `Temporal   ${median(times.temporal).toFixed(1)} µs`,
    `orisma / Temporal: ${median(ratios).toFixed(1)} times as fast`,
    "",
  ].join("\n"),
);
