/**
 * Reading and recognising dates in the core: against a general date library's pattern parser,
 * against the engine's own, and recognition against one pass of the compiled reader.
 */
import { cpus, release } from "node:os";
import {
  compileReading,
  readColumn,
  recogniseColumn,
  type CompiledReading,
  type Reading,
} from "@orisma/core/internal";
import { parse } from "date-fns";
import { median } from "../measure.js";

const VALUES = Number(process.env.BENCH_ROWS ?? 1_000_000);
/** The library is so much slower that a share of the values is enough. */
const LIBRARY_SHARE = 50;
const PASSES = Number(process.env.BENCH_PASSES ?? 7);

const days = Array.from({ length: VALUES }, (_, index) => {
  const [date = "", time = ""] = new Date(Date.UTC(1990, 0, 1) + index * 1_100_007)
    .toISOString()
    .split("T");
  const [year = "", month = "", day = ""] = date.split("-");
  return {
    iso: `${date}T${time.slice(0, 8)}`,
    dayFirst: `${day}/${month}/${year} ${time.slice(0, 5)}`,
  };
});
const iso = days.map((each) => each.iso);
const dayFirst = days.map((each) => each.dayFirst);
const few = dayFirst.slice(0, VALUES / LIBRARY_SHARE);
const serials = Float64Array.from(days, (_, index) => 30_000 + index / 64);
const counted = dayFirst.map((value) => ({ value, count: 1 }));

/** Other columns that are recognised: what is in them, and the reading that is found. */
const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");
const written = Array.from({ length: VALUES / 10 }, (_, index) => {
  const [year = "", month = "", day = ""] = new Date(Date.UTC(1900, 0, 1 + index))
    .toISOString()
    .slice(0, 10)
    .split("-");
  return {
    named: `${Number(day)} ${MONTHS[Number(month) - 1] ?? ""} ${year}`,
    iso: `${year}-${month}-${day}`,
    note: `paddle ${index % 7} repaired, gate ${"oiled ".repeat(index % 5)}${index}`,
  };
});
const columns: Readonly<
  Record<string, { readonly values: readonly string[]; readonly reading: Reading }>
> = {
  "month names": {
    values: written.map(({ named }) => named),
    reading: { kind: "date", encoding: "text", patterns: ["d MMM yyyy"] },
  },
  "two layouts among notes": {
    values: written.map(
      ({ named, iso: day, note }, index) => [named, named, day, note][index % 4] ?? note,
    ),
    reading: { kind: "date", encoding: "text", patterns: ["d MMM yyyy", "yyyy-MM-dd"] },
  },
  numbers: {
    values: written.map((_, index) => String(30_000 + index)),
    reading: { kind: "date", encoding: "serial-1900" },
  },
};
const recognised = Object.entries(columns).map(([name, { values, reading }]) => {
  const compiled = reader(reading);
  return {
    name,
    pass: () => values.forEach((value) => compiled.dateOf(value)),
    recognise: () => recogniseColumn(values.map((value) => ({ value, count: 1 }))),
  };
});

const dayFirstReader = reader({ kind: "local", encoding: "text", patterns: ["dd/MM/yyyy HH:mm"] });
const isoReader = reader({ kind: "local", encoding: "text", patterns: ["yyyy-MM-dd'T'HH:mm:ss"] });
const serialReader = reader({ kind: "local", encoding: "serial-1900" });
const origin = new Date(0);

const tasks: Readonly<Record<string, () => unknown>> = {
  "dd/MM/yyyy HH:mm": () => dayFirst.forEach((text) => dayFirstReader.dateOf(text)),
  "the same, library": () =>
    few.forEach((text) => parse(text, "dd/MM/yyyy HH:mm", origin).getTime()),
  "ISO 8601 by pattern": () => iso.forEach((text) => isoReader.dateOf(text)),
  "ISO 8601, Date.parse": () => iso.forEach((text) => Date.parse(`${text}Z`)),
  "day numbers": () => readColumn(serialReader, serials),
  recognise: () => recogniseColumn(counted),
  ...Object.fromEntries(
    recognised.flatMap(({ name, pass, recognise }) => [
      [name, pass],
      [`recognise ${name}`, recognise],
    ]),
  ),
};

const times = new Map<string, number[]>(Object.keys(tasks).map((name) => [name, []]));
for (let pass = 0; pass <= PASSES; pass++) {
  for (const [name, task] of Object.entries(tasks)) {
    const started = performance.now();
    task();
    // The first pass warms up.
    if (pass > 0) times.get(name)?.push(performance.now() - started);
  }
}

const ms = (name: string) => median(times.get(name) ?? []);
const library = ms("the same, library") * LIBRARY_SHARE;
process.stdout.write(
  [
    `Reading ${VALUES} values; ${PASSES} passes in turn, medians.`,
    `${cpus()[0]?.model ?? "processor"} x ${cpus().length}, Linux ${release()}, Node ${process.version}.`,
    "",
    ...Object.keys(tasks).map((name) => `${name.padEnd(34)}${ms(name).toFixed(0).padStart(6)} ms`),
    "",
    `one pattern / the library's parser: ${(library / ms("dd/MM/yyyy HH:mm")).toFixed(1)} times as fast`,
    `ISO 8601 by pattern / Date.parse: ${(ms("ISO 8601, Date.parse") / ms("ISO 8601 by pattern")).toFixed(2)} times as fast`,
    `day numbers: ${(VALUES / ms("day numbers") / 1_000).toFixed(1)} million a second`,
    `recognising a column / one pass of its reader: ${(ms("recognise") / ms("dd/MM/yyyy HH:mm")).toFixed(1)} times as long`,
    ...recognised.map(
      ({ name }) =>
        `recognising ${name} / one pass: ${(ms(`recognise ${name}`) / ms(name)).toFixed(1)} times as long`,
    ),
    "",
  ].join("\n"),
);

function reader(reading: Reading): CompiledReading {
  const compiled = compileReading(reading);
  if (compiled.ok) return compiled.value;
  throw new Error("the reading has a fault");
}
