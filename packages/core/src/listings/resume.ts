import { MS_PER_DAY, epochMs, wallMs, type EpochMs } from "../calendar/index.js";
import { fault, type Fault } from "../faults/index.js";
import type { Catalogue, Filter } from "../filters/index.js";
import { readLength } from "../windows/index.js";
import type { ListingDeclaration } from "./declaration.js";
import { lengthMs } from "./length.js";

/** The longest lag, in days: what changed within it is not returned yet. */
const MAX_LAG_DAYS = 7;

/** Whether callers may pick up where they stopped. */
export function takesResume(resume: ListingDeclaration["resume"]): boolean {
  return resume !== undefined && resume !== false;
}

/** The faults of `resume` by time: of its column, which holds instants, and of its lag. */
export function resumeFaults(
  { resume }: Pick<ListingDeclaration, "resume">,
  ofSource: Catalogue,
): readonly Fault[] {
  if (typeof resume !== "object") return [];
  const { column: name, lag } = resume;
  const known = [...ofSource.values()].flatMap((each) =>
    each.type === "date" && each.kind === "instant" ? [each.name] : [],
  );
  const column = ofSource.get(name);
  const path = "resume.column";
  const wrong = (reason: string, at: string, value: string) =>
    fault("parameter.setting", { name: at, reason }, { path: `resume.${at}`, value });
  const faults: Fault[] = [];
  if (column === undefined) faults.push(fault("column.unknown", { name, known }, { path }));
  else if (!known.includes(name)) {
    const instead = known.length === 0 ? "" : `, such as ${known.join(", ")}`;
    const reason = `its values must be instants${instead}: a wall-clock time happens twice when clocks go back, and a day is too coarse`;
    faults.push(wrong(reason, "column", name));
  }
  const read = readLength(lag);
  if (!read.ok) return [...faults, ...read.faults.map((each) => ({ ...each, path: "resume.lag" }))];
  const { years, months } = read.value;
  const ms = lengthMs(lag);
  if (years === 0 && months === 0 && ms >= 1_000 && ms <= MAX_LAG_DAYS * MS_PER_DAY) return faults;
  const reason = `it is a time from PT1S to P${MAX_LAG_DAYS}D, such as PT5M: the longest that a change takes to become visible`;
  return [...faults, wrong(reason, "lag", lag)];
}

/** The instant before which changes are returned: what is later may not all be visible yet. */
export function resumeUpTo(lag: string, now: EpochMs): EpochMs {
  return epochMs(now - lengthMs(lag));
}

/** That a column of instants lies before an instant. */
export function beforeInstant(column: string, instant: EpochMs): Filter {
  const end = { wall: wallMs(instant), instant };
  const intervals = [{ start: null, end }];
  return { kind: "date", column, side: "inside", intervals, recurring: [], blanks: "exclude" };
}
