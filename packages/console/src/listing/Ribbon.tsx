import { OrismaError, type ListingDetails } from "@orisma/client";
import {
  takesDates,
  type DateParameter,
  type RecordsMeta,
  type TimelineAnswer,
  type WindowView,
} from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { service } from "../service/service.js";
import { localText } from "../dates/zones.js";
import { RibbonEdge } from "./RibbonEdge.js";
import { Undated } from "./Undated.js";
import { numberText } from "./counts.js";
import { endParameters, parametersOn, withoutColumn, withWindow } from "./narrowing.js";
import {
  edgesAround,
  edgesOf,
  keptDays,
  nameOf,
  recordsBetween,
  surroundings,
  windowBetween,
  type EdgePair,
} from "./ribbon.js";
import { searchOf, withParameters, type PageState } from "./state.js";

export interface RibbonProps {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly windows: readonly WindowView[] | undefined;
  /** What was applied of each parameter, by name. */
  readonly applied: RecordsMeta["values"];
  /** Whether the latest is on top. */
  readonly newestFirst: boolean;
  /** The dates of the first and last records of the page, where they are in the ribbon's order. */
  readonly page: readonly [string, string] | null;
  readonly onGo: (state: PageState) => void;
  readonly onBlank: (() => void) | null;
}

/** Pixels of the ribbon, and of what stands beside its bars: less where it stands above the records. */
const HEIGHT = matchMedia("(min-width: 40rem)").matches ? 560 : 260;
const WIDTH = 176;
const LABELS = 68;
/** Milliseconds without a move until exact counts are asked for. */
const REST_MS = 600;

/**
 * Records along the time of the main date, upright and in the listing's own order, with the window
 * drawn on it: its two edges are moved by hand or by keys, from unit to unit.
 */
export function Ribbon(props: RibbonProps) {
  const { listing, state, windows } = props;
  const column = listing.mainDate;
  const texts = windows?.filter((each) => each.column === column) ?? [];
  const start = texts
    .flatMap(({ startLocal }) => startLocal ?? [])
    .toSorted()
    .at(-1);
  const [end] = texts.flatMap(({ endLocal }) => endLocal ?? []).toSorted();
  const around = asksAround(props, start ?? null, end ?? null);
  const own = withParameters(state, { order: [], size: [] });
  const found = useQuery({
    meta: { doing: "Counting along time" },
    queryKey: ["timeline", listing.name, listing.version, searchOf(around ?? own).toString()],
    queryFn: ({ signal }) => timelineOf(listing, around ?? own, own, signal),
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
  const answer = found.data;
  return (
    <section
      aria-label={`Time ribbon of ${listing.labels?.[column] ?? column}`}
      aria-busy={found.isFetching}
      className="w-44 shrink-0 select-none sm:sticky sm:top-4"
    >
      {answer === undefined ? (
        found.isError ? (
          <p className="text-sm">{found.error.message}</p>
        ) : (
          <div className="skeleton w-44" style={{ height: HEIGHT }} />
        )
      ) : answer.buckets.length === 0 ? (
        <p className="text-sm">No dated record.</p>
      ) : (
        <Drawn
          key={`${start ?? ""} ${end ?? ""} ${answer.buckets[0]?.startLocal ?? ""} ${answer.unit}`}
          {...props}
          answer={answer}
          window={texts.length === 0 ? null : { start: start ?? null, end: end ?? null }}
        />
      )}
      {answer === undefined ? null : <Undated answer={answer} onBlank={props.onBlank} />}
    </section>
  );
}

/** The same page with as much time around its window as it has; null where that cannot be asked for. */
function asksAround(
  { listing, state }: RibbonProps,
  start: string | null,
  end: string | null,
): PageState | null {
  const clear = withParameters(withoutColumn(state, listing, listing.mainDate), {
    order: [],
    size: [],
  });
  if (start === null || end === null || start >= end) return clear;
  return withWindow(clear, listing, listing.mainDate, surroundings(start, end)) ?? null;
}

async function timelineOf(
  listing: ListingDetails,
  asked: PageState,
  own: PageState,
  signal: AbortSignal,
): Promise<TimelineAnswer> {
  const { name, mainDate } = listing;
  const takesTimes = parametersOn(listing, mainDate).some(({ type }) => type !== "date");
  const ask = async (of: PageState) => {
    const answer = await service.timeline(name, { ...of }, signal);
    if (answer.unit !== "hour" || takesTimes) return answer;
    return service.timeline(name, { ...of, unit: "day" }, signal);
  };
  try {
    return await ask(asked);
  } catch (error) {
    // A listing may limit how much can be asked for: then the window alone is drawn.
    if (error instanceof OrismaError && error.status === 422) return ask(own);
    throw error;
  }
}

function Drawn(
  props: RibbonProps & {
    readonly answer: TimelineAnswer;
    readonly window: { readonly start: string | null; readonly end: string | null } | null;
  },
) {
  const { listing, state, windows, applied, answer, window, newestFirst, page, onGo } = props;
  const { buckets, unit } = answer;
  const set =
    window === null
      ? { start: 0, end: buckets.length }
      : edgesOf(buckets, window.start, window.end);
  const [moved, setMoved] = useState<EdgePair | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const edges = moved ?? set;
  const step = HEIGHT / buckets.length;
  /** From the top, where an edge between two units lies. */
  const topOf = (edge: number) => (newestFirst ? buckets.length - edge : edge) * step;
  const most = Math.max(1, ...buckets.map(({ records }) => records));
  const widthOf = (records: number) =>
    records === 0 ? 0 : Math.max(2, (records / most) * (WIDTH - LABELS - 8));
  const textOf = (pair: EdgePair) => windowBetween(answer, pair, keptDays(window, set, pair));
  /** The page with edges that were moved; an end that was not stays as it was written. */
  const pageOf = (pair: EdgePair): PageState | null => {
    const text = textOf(pair);
    const there = text === null ? null : withWindow(state, listing, listing.mainDate, text);
    if (there === null) return null;
    const { from, to } = endParameters(parametersOn(listing, listing.mainDate).filter(takesDates));
    const [only, another] =
      windows?.filter(({ column }) => column === listing.mainDate) ?? ([] as const);
    // Of several windows the end may be that of another than this parameter's.
    const written = (end: DateParameter | undefined, which: "start" | "end") => {
      const value = end === undefined ? undefined : applied?.[end.name]?.[0];
      const isOf = which === "start" ? only?.startLocal : only?.endLocal;
      return end === undefined ||
        value === undefined ||
        another !== undefined ||
        there[end.name] === undefined ||
        pair[which] !== set[which] ||
        isOf !== window?.[which]
        ? {}
        : { [end.name]: value };
    };
    return withParameters(there, { ...written(from, "start"), ...written(to, "end") });
  };
  const next = moved === null ? null : textOf(moved);
  const target = moved === null ? null : pageOf(moved);
  const canMove =
    windowBetween(answer, { start: 0, end: 1 }) !== null &&
    withWindow(
      state,
      listing,
      listing.mainDate,
      windowBetween(answer, { start: 0, end: 1 }) ?? "",
    ) !== null;

  // What was moved takes effect when it rests.
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  const restThen = (pair: EdgePair) => {
    clearTimeout(rest.current);
    setMoved(pair);
    rest.current = setTimeout(() => {
      const there = pageOf(pair);
      if (there !== null) onGo(there);
    }, REST_MS);
  };
  useEffect(() => () => clearTimeout(rest.current), []);

  const edgeAt = (clientY: number) => {
    const box = frame.current?.getBoundingClientRect();
    const place = Math.round((clientY - (box?.top ?? 0)) / step);
    const edge = newestFirst ? buckets.length - place : place;
    return Math.min(buckets.length, Math.max(0, edge));
  };
  const moveTo = (which: keyof EdgePair, edge: number): EdgePair =>
    which === "start"
      ? { start: Math.min(edge, edges.end - 1), end: edges.end }
      : { start: edges.start, end: Math.max(edge, edges.start + 1) };
  const labels = labelled(buckets.length, unit);
  const before = edges.end - edges.start;
  return (
    <>
      <p aria-live="polite" className="min-h-12 text-sm leading-snug tabular-nums">
        {moved === null ? (
          <>
            a {unit} each, {numberText(most)} at most
          </>
        ) : (
          <>
            <strong>{numberText(recordsBetween(buckets, edges))}</strong> dated here
            <br />
            {next ?? ""}
          </>
        )}
      </p>
      <div ref={frame} dir="ltr" className="relative" style={{ height: HEIGHT, width: WIDTH }}>
        <svg
          width={WIDTH}
          height={HEIGHT}
          role="img"
          aria-label={`${buckets.length} units of a ${unit}, from ${buckets[0]?.startLocal ?? ""} to ${buckets.at(-1)?.endLocal ?? ""}; ${answer.empty} without records`}
          onClick={(event) => {
            if (!canMove) return;
            const box = event.currentTarget.getBoundingClientRect();
            const row = Math.floor((event.clientY - box.top) / step);
            const at = newestFirst ? buckets.length - 1 - row : row;
            const text = windowBetween(answer, { start: at, end: at + 1 });
            const there = text === null ? null : withWindow(state, listing, listing.mainDate, text);
            if (there !== null) onGo(there);
          }}
          className={canMove ? "cursor-pointer" : ""}
        >
          <rect
            x={LABELS}
            width={WIDTH - LABELS}
            y={Math.min(topOf(edges.start), topOf(edges.end))}
            height={Math.abs(topOf(edges.end) - topOf(edges.start))}
            className="fill-base-300"
          />
          <line
            x1={LABELS}
            x2={LABELS}
            y1={0}
            y2={HEIGHT}
            className="stroke-primary"
            strokeWidth={2}
          />
          {buckets.map((bucket, index) => {
            const { startLocal, records } = bucket;
            const y = topOf(newestFirst ? index + 1 : index);
            const isIn = index >= edges.start && index < edges.end;
            return (
              <rect
                key={startLocal}
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
                <title>{`${nameOf(bucket, unit)}: ${numberText(records)}`}</title>
              </rect>
            );
          })}
          {window === null
            ? null
            : buckets.slice(edges.start, edges.end).map(({ startLocal }, index) => {
                // The unit as far before the window as this is into it.
                const earlier = buckets[edges.start + index - before];
                if (earlier === undefined) return null;
                const y = topOf(edges.start + index + (newestFirst ? 1 : 0));
                return (
                  <line
                    key={startLocal}
                    x1={LABELS + 1 + widthOf(earlier.records)}
                    x2={LABELS + 1 + widthOf(earlier.records)}
                    y1={y}
                    y2={y + step}
                    className="stroke-accent"
                    strokeWidth={2}
                  />
                );
              })}
          {labels.map((index) => {
            const bucket = buckets[index];
            if (bucket === undefined) return null;
            const y = topOf(newestFirst ? index + 1 : index) + Math.min(step / 2, 6) + 4;
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
        </svg>
        {canMove
          ? (["start", "end"] as const).map((which) => (
              <RibbonEdge
                key={which}
                which={which}
                top={topOf(edges[which])}
                value={edges[which]}
                least={which === "start" ? 0 : edges.start + 1}
                most={which === "start" ? edges.end - 1 : buckets.length}
                upIsLater={newestFirst}
                text={edgeText(buckets, edges[which], which, unit)}
                onMove={(edge) => restThen(moveTo(which, edge))}
                onDrag={(clientY) => setMoved(moveTo(which, edgeAt(clientY)))}
                onDrop={() => {
                  if (target !== null) onGo(target);
                  else setMoved(null);
                }}
              />
            ))
          : null}
      </div>
    </>
  );
}

/** Where the records of the page lie. */
function PageMark(
  props: RibbonProps & {
    readonly answer: TimelineAnswer;
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

function edgeText(
  buckets: TimelineAnswer["buckets"],
  edge: number,
  which: keyof EdgePair,
  unit: TimelineAnswer["unit"],
): string {
  const bucket = buckets[which === "start" ? edge : edge - 1];
  if (bucket === undefined) return "";
  return `${which === "start" ? "from" : "to the end of"} ${nameOf(bucket, unit)} ${bucket.startLocal?.slice(0, 4) ?? ""}`;
}

/** The units that are named: so many that their names do not touch. */
function labelled(count: number, unit: TimelineAnswer["unit"]): readonly number[] {
  const room = Math.floor(HEIGHT / 18);
  const sensible = { hour: [1, 6, 24], day: [1, 7, 14, 28], week: [1, 4, 13], month: [1, 3, 12] };
  const steps = unit in sensible ? sensible[unit as keyof typeof sensible] : [1, 2, 5, 10];
  const step = steps.find((each) => count / each <= room) ?? Math.ceil(count / room);
  return Array.from({ length: Math.ceil(count / step) }, (_, index) => index * step);
}
