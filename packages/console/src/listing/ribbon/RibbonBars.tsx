import type { ListingDetails } from "@orisma/client";
import type { TimelineAnswer } from "@orisma/core/internal";
import { localText } from "../../dates/zones.js";
import { numberText } from "../counts.js";
import { edgesAround, nameOf, type EdgePair } from "./ribbon.js";
import { HEIGHT, LABELS, WIDTH, type RibbonScale } from "./ribbon-scale.js";

export interface RibbonBarsProps {
  readonly listing: ListingDetails;
  readonly answer: TimelineAnswer;
  readonly scale: RibbonScale;
  /** The edges of the window as they are drawn. */
  readonly edges: EdgePair;
  readonly hasWindow: boolean;
  readonly newestFirst: boolean;
  /** The dates of the first and last records of the page, where they are in the ribbon's order. */
  readonly page: readonly [string, string] | null;
}

/** The units of a ribbon as bars, the window behind them, and the same time before it as lines. */
export function RibbonBars(props: RibbonBarsProps) {
  const { answer, scale, edges, hasWindow, newestFirst, page } = props;
  const { buckets, unit } = answer;
  const { topOf } = scale;
  return (
    <>
      <rect
        x={LABELS}
        width={WIDTH - LABELS}
        y={Math.min(topOf(edges.start), topOf(edges.end))}
        height={Math.abs(topOf(edges.end) - topOf(edges.start))}
        className="fill-base-300"
      />
      <line x1={LABELS} x2={LABELS} y1={0} y2={HEIGHT} className="stroke-primary" strokeWidth={2} />
      {buckets.map((bucket, index) => (
        <Bar key={bucket.startLocal} {...props} index={index} />
      ))}
      {hasWindow ? <PeriodBefore {...props} /> : null}
      {labelled(buckets.length, unit).map((index) => {
        const bucket = buckets[index];
        if (bucket === undefined) return null;
        const y = topOf(newestFirst ? index + 1 : index) + Math.min(scale.step / 2, 6) + 4;
        return (
          <text
            key={index}
            x={LABELS - 6}
            y={Math.min(HEIGHT - 2, Math.max(10, y))}
            textAnchor="end"
            className="fill-base-content text-[0.7rem]"
            style={{ direction: "ltr" }}
          >
            {nameOf(bucket, unit)}
          </text>
        );
      })}
      {page === null ? null : <PageMark {...props} page={page} topOf={topOf} />}
    </>
  );
}

function Bar(props: RibbonBarsProps & { readonly index: number }) {
  const { answer, scale, edges, newestFirst, index } = props;
  const { step, topOf, widthOf } = scale;
  const bucket = answer.buckets[index];
  if (bucket === undefined) return null;
  const { records } = bucket;
  const y = topOf(newestFirst ? index + 1 : index);
  const isIn = index >= edges.start && index < edges.end;
  return (
    <rect
      x={LABELS + 1}
      y={y + Math.min(0.5, step * 0.1)}
      height={Math.max(0.5, step - Math.min(1, step * 0.2))}
      width={records === 0 ? 3 : widthOf(records)}
      className={
        records === 0
          ? "fill-none stroke-base-content/40"
          : isIn
            ? "fill-primary"
            : "fill-secondary/45"
      }
      strokeWidth={records === 0 ? 0.5 : 0}
    >
      <title>{`${nameOf(bucket, answer.unit)}: ${numberText(records)}`}</title>
    </rect>
  );
}

/** For each unit of the window the one as far before the window as it is into it. */
function PeriodBefore({ answer, scale, edges, newestFirst }: RibbonBarsProps) {
  const { step, topOf, widthOf } = scale;
  const length = edges.end - edges.start;
  return answer.buckets.slice(edges.start, edges.end).map(({ startLocal }, index) => {
    const earlier = answer.buckets[edges.start + index - length];
    if (earlier === undefined) return null;
    const x = LABELS + 1 + widthOf(earlier.records);
    const y = topOf(edges.start + index + (newestFirst ? 1 : 0));
    return (
      <line
        key={startLocal}
        x1={x}
        x2={x}
        y1={y}
        y2={y + step}
        className="stroke-accent"
        strokeWidth={2}
      />
    );
  });
}

/** Where the records of the page lie. */
function PageMark(
  props: Omit<RibbonBarsProps, "page"> & {
    readonly page: readonly [string, string];
    readonly topOf: (edge: number) => number;
  },
) {
  const { zone } = props.listing;
  const [first = "", last = ""] = props.page.map((text) => localText(text, zone)).sort();
  const { start, end } = edgesAround(props.answer.buckets, first, last);
  const [a, b] = [props.topOf(start), props.topOf(end)];
  return (
    <rect
      x={LABELS - 4}
      width={4}
      y={Math.min(a, b)}
      height={Math.max(3, Math.abs(a - b))}
      className="fill-accent"
    >
      <title>the records of this page</title>
    </rect>
  );
}

/** The units that are named: so many that their names do not touch. */
function labelled(count: number, unit: TimelineAnswer["unit"]): readonly number[] {
  const room = Math.floor(HEIGHT / 18);
  const sensible = { hour: [1, 6, 24], day: [1, 7, 14, 28], week: [1, 4, 13], month: [1, 3, 12] };
  const steps = unit in sensible ? sensible[unit as keyof typeof sensible] : [1, 2, 5, 10];
  const step = steps.find((each) => count / each <= room) ?? Math.ceil(count / room);
  return Array.from({ length: Math.ceil(count / step) }, (_, index) => index * step);
}
