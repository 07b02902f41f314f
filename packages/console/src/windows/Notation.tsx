import {
  COMPARISON_KEEPS,
  DATE_COMPARISONS,
  WINDOW_FORMS,
  answerWindow,
  intervalInWords,
  intervalOf,
  readWindow,
  resolveWindow,
  type DateComparison,
  type WindowContext,
} from "@orisma/core/internal";
import { withoutZone } from "../dates/words.js";

/** Dates with which a comparison is shown. */
const COMPARED = ["month-1", "today"];

/** How windows are written and compared: every form with two examples, worked out for today. */
export default function Notation(props: {
  readonly context: WindowContext;
  readonly onPick: (window: string) => void;
}) {
  const { context, onPick } = props;
  return (
    <div className="flex flex-col gap-8">
      <dl className="grid gap-x-8 gap-y-5 lg:grid-cols-2">
        {WINDOW_FORMS.map(({ form, covers, examples }) => (
          <div key={form}>
            <dt>
              <code className="font-semibold">{form}</code>
            </dt>
            <dd className="text-sm">{covers}</dd>
            {examples.map((window) => (
              <dd key={window} className="text-sm">
                <button type="button" className="link font-mono" onClick={() => onPick(window)}>
                  {window}
                </button>{" "}
                <span className="opacity-80">{coveredBy(window, context)}</span>
              </dd>
            ))}
          </div>
        ))}
      </dl>
      <section aria-label="Comparisons">
        <h3 className="font-sentence text-lg">Compared with a column</h3>
        <dl className="mt-2 grid gap-x-8 gap-y-4 lg:grid-cols-2">
          {DATE_COMPARISONS.map((comparison) => (
            <div key={comparison}>
              <dt>
                <code className="font-semibold">{comparison} X</code>
              </dt>
              <dd className="text-sm">includes {COMPARISON_KEEPS[comparison]}</dd>
              {COMPARED.map((window) => (
                <dd key={window} className="text-sm">
                  <code>
                    {comparison} {window}
                  </code>{" "}
                  <span className="opacity-80">{keptBy(comparison, window, context)}</span>
                </dd>
              ))}
            </div>
          ))}
        </dl>
      </section>
    </div>
  );
}

function coveredBy(window: string, context: WindowContext): string {
  const answer = answerWindow(window, context);
  return answer.ok ? withoutZone(answer.value.sentence) : "";
}

/** What a comparison with a window of one interval keeps, in words. */
function keptBy(comparison: DateComparison, text: string, context: WindowContext): string {
  const read = readWindow(text);
  const resolved = read.ok ? resolveWindow(read.value.window, context) : null;
  const span = resolved?.ok === true ? resolved.value.intervals[0] : undefined;
  if (span?.start == null || span.end === null) return "";
  const words = intervalInWords(intervalOf(comparison, { start: span.start, end: span.end }));
  return comparison === "notOn" ? `not ${words}` : words;
}
