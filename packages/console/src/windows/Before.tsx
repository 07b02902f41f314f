import {
  PERIODS_BEFORE,
  intervalInWords,
  periodBefore,
  type Interval,
  type WindowContext,
} from "@orisma/core/internal";

const NAMES = { length: "as long", month: "a month earlier", year: "a year earlier" } as const;

/** The periods before a window of one interval; nothing where it is open, or has several. */
export function Before(props: {
  readonly intervals: readonly Interval[];
  readonly context: WindowContext;
}) {
  const { intervals, context } = props;
  const [interval, ...others] = intervals;
  if (interval === undefined || others.length > 0) return null;
  const found = PERIODS_BEFORE.flatMap((by) => {
    const before = periodBefore(interval, by, context.zone);
    return before === null ? [] : [{ by, words: intervalInWords(before) }];
  });
  if (found.length === 0) return null;
  return (
    <section aria-label="The period before">
      <h2 className="text-sm font-semibold">The period before</h2>
      <dl className="mt-1 grid grid-cols-[max-content_1fr] gap-x-4 text-sm">
        {found.map(({ by, words }) => (
          <div key={by} className="contents">
            <dt className="opacity-80">{NAMES[by]}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
