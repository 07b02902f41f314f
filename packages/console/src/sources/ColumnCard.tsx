import { counted } from "../imports/counted.js";
import { sampleInWords, type ColumnProfile } from "@orisma/core/internal";
import { Shares } from "./Shares.js";
import { ReadingEditor } from "./ReadingEditor.js";
import { TimeStrip } from "./TimeStrip.js";
import { heldInWords } from "./draft.js";
import { dayText } from "../dates/words.js";

const VERDICTS = {
  certain: null,
  ambiguous: "can be read in two ways",
  mixed: "written in two ways",
  few: "some of the values are dates",
  numbers: null,
  none: null,
} as const;

/** One column: what it holds, the evidence, how its dates lie in time; opened to be confirmed. */
export function ColumnCard({
  source,
  column,
  isOpen,
  onOpen,
}: {
  readonly source: string;
  readonly column: ColumnProfile;
  readonly isOpen: boolean;
  /** Opens and closes what sets it; null for whoever may not. */
  readonly onOpen: ((isOpen: boolean) => void) | null;
}) {
  const { name, type, recognition, quality, numbers, distinct, sample } = column;
  // Once dates are confirmed their shares say more than the evidence for them.
  const isConfirmed = type === "date" && recognition.verdict === "certain";
  const doubt = VERDICTS[recognition.verdict];
  const counts =
    quality !== null && type === "date"
      ? quality
      : {
          dated: recognition.cells - numbers.blank - (unreadableOf(column) ?? 0),
          blank: numbers.blank,
          unreadable: unreadableOf(column),
        };
  return (
    <li className="border-t border-base-300 py-4" aria-label={name}>
      <div className="grid items-start gap-x-8 gap-y-3 md:grid-cols-[14rem_minmax(0,36rem)_auto]">
        <div>
          <h2 className="font-semibold break-words">{name}</h2>
          <p className="text-sm">{heldInWords(column)}</p>
          <p className="text-sm tabular-nums opacity-70">
            {counted(distinct, "distinct value", "distinct values")}
          </p>
          {sample === null ? null : (
            <p className="text-sm tabular-nums opacity-70">{sampleInWords(sample)}</p>
          )}
        </div>
        <div className="flex min-w-0 flex-col gap-2">
          <Shares {...counts} word={type === "date" ? "dated" : "filled"} />
          {quality === null ? null : <TimeStrip quality={quality} />}
          {doubt === null ? null : <p className="font-semibold text-warning">{doubt}</p>}
          {recognition.verdict === "none" || isConfirmed ? null : (
            <p className="max-w-prose text-sm">{recognition.evidence}.</p>
          )}
          <Oddities column={column} />
        </div>
        {onOpen === null ? null : (
          <button
            type="button"
            className="btn btn-sm justify-self-start"
            aria-expanded={isOpen}
            onClick={() => onOpen(!isOpen)}
          >
            {isOpen ? "Close" : "Set reading"}
          </button>
        )}
      </div>
      {isOpen && onOpen !== null ? (
        <ReadingEditor source={source} column={column} onDone={() => onOpen(false)} />
      ) : null}
    </li>
  );
}

/** Unreadable cells of a column of numbers, or of yes and no; text can always be read. */
function unreadableOf({ type, numbers, recognition }: ColumnProfile): number | null {
  if (type === "text") return null;
  if (type === "boolean") return recognition.cells - numbers.blank - numbers.yesOrNo;
  return numbers.other + (type === "integer" ? numbers.fractional : 0);
}

const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** What is odd about the dates of a column. */
function Oddities({ column }: { readonly column: ColumnProfile }) {
  const { recognition, quality, dateCells } = column;
  const returned = recognition.suspects.map(
    ({ date, count }) => `${date} stands ${count} times, and may mean “no date”`,
  );
  if (dateCells !== undefined) {
    returned.push(
      `the sheet itself shows ${dateCells.count} cells as dates${dateCells.encoding === "text" ? "" : `, ${dateCells.encoding}`}`,
    );
  }
  if (quality !== null) {
    const { farPast, farFuture, offsets, gaps } = quality;
    const [gap] = gaps;
    if (quality.dated > 0)
      returned.push(
        `by weekday: ${quality.weekdays.map((count, index) => `${WEEKDAYS[index]} ${count}`).join(", ")}`,
      );
    if (farPast.count > 0)
      returned.push(`${farPast.count} in the far past, such as ${farPast.examples.join(", ")}`);
    if (farFuture.count > 0)
      returned.push(
        `${farFuture.count} in the far future, such as ${farFuture.examples.join(", ")}`,
      );
    if (offsets.with > 0 && offsets.without > 0)
      returned.push(`${offsets.without} do not say their offset`);
    if (gap !== undefined)
      returned.push(`longest gap: ${gap.days} days, after ${dayText(gap.after)}`);
  }
  if (returned.length === 0) return null;
  return (
    <ul className="max-w-prose list-inside list-disc text-sm opacity-80">
      {returned.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  );
}
