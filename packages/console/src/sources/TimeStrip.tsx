import type { DateQuality } from "@orisma/core/internal";
import { dayText } from "../dates/words.js";

const HEIGHT = 34;

/** How the dates of a column lie in time: marks that hang from a line, a dot where there are none. */
export function TimeStrip({ quality }: { readonly quality: DateQuality }) {
  const { unit, buckets } = quality.timeline;
  const [first, last] = [buckets[0], buckets.at(-1)];
  if (first === undefined || last === undefined) return null;
  const most = Math.max(...buckets.map(({ count }) => count));
  const label = `${dayText(first.start)} to ${dayText(last.start)}, per ${unit}, up to ${most}`;
  return (
    <figure className="w-full max-w-xl">
      <svg
        role="img"
        aria-label={label}
        viewBox={`0 0 ${buckets.length} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="h-10 w-full"
      >
        <rect x="0" y="0" width={buckets.length} height="1" className="fill-primary" />
        {buckets.map(({ start, count }, index) => {
          const length = count === 0 ? 0 : Math.max(2, (count / most) * (HEIGHT - 2));
          return (
            <rect
              key={start}
              x={index + 0.1}
              y={1}
              width={0.8}
              height={length}
              className={count === 0 ? "" : "fill-secondary"}
            >
              <title>{`${dayText(start)}: ${count}`}</title>
            </rect>
          );
        })}
      </svg>
      <figcaption className="flex justify-between gap-2 text-sm tabular-nums opacity-75">
        <span>{dayText(first.start)}</span>
        <span>
          per {unit}, up to {most.toLocaleString("en-GB")}
        </span>
        <span>{dayText(last.start)}</span>
      </figcaption>
    </figure>
  );
}
