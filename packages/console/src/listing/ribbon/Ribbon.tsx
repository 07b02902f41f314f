import { OrismaError, type ListingDetails } from "@orisma/client";
import type { TimelineAnswer } from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type PointerEvent, type RefObject } from "react";
import { localText } from "../../dates/zones.js";
import { service } from "../../service/service.js";
import { RibbonBars } from "./RibbonBars.js";
import { RibbonEdge } from "./RibbonEdge.js";
import { Undated } from "../Undated.js";
import { numberText } from "../counts.js";
import { parametersOn, withoutColumn, withWindow } from "../narrowing.js";
import { nameOf, recordsBetween, windowBetween, type EdgePair } from "./ribbon.js";
import type { RibbonProps } from "./ribbon-props.js";
import { HEIGHT, WIDTH, ZOOM_STEP, scaleOf } from "./ribbon-scale.js";
import { searchOf, withParameters, type PageState } from "../state.js";
import { holds, spanAround, zoomed, type RibbonWindow, type DrawnSpan } from "./drawn-span.js";
import { useRibbonEdges } from "./useRibbonEdges.js";

/**
 * Records along the time of the main date, upright and in the listing's own order, with the window
 * drawn on it: its two edges are moved by hand or by keys, from unit to unit.
 */
export function Ribbon(props: RibbonProps) {
  const { listing, state, windows } = props;
  const column = listing.mainDate;
  const strings = windows?.filter((each) => each.column === column) ?? [];
  const start = strings
    .flatMap(({ startLocal }) => startLocal ?? [])
    .toSorted()
    .at(-1);
  const [end] = strings.flatMap(({ endLocal }) => endLocal ?? []).toSorted();
  const window = strings.length === 0 ? null : { start: start ?? null, end: end ?? null };
  const clear = withParameters(withoutColumn(state, listing, column), { order: [], size: [] });
  const records = useRecordDays(listing, clear);
  const { span, zoom } = useDrawnSpan(window, records);
  const around =
    span === null ? clear : withWindow(clear, listing, column, `${span.first}/${span.last}`);
  const own = withParameters(state, { order: [], size: [] });
  const found = useQuery({
    meta: { doing: "Counting by time" },
    queryKey: ["timeline", listing.name, listing.version, searchOf(around ?? own).toString()],
    queryFn: ({ signal }) => timelineOf(listing, around ?? own, own, signal),
    enabled: window === null || records !== undefined,
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
  const answer = found.data;
  return (
    <section
      aria-label={`Time ribbon of ${listing.labels?.[column] ?? column}`}
      aria-busy={found.isFetching}
      className="w-44 shrink-0 select-none sm:sticky sm:top-12"
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
        <Drawn {...props} answer={answer} window={window} onZoom={zoom} />
      )}
      {answer === undefined ? null : <Undated answer={answer} onBlank={props.onBlank} />}
    </section>
  );
}

/** The days of the records that the other conditions keep; null for none, undefined until it is known. */
function useRecordDays(listing: ListingDetails, clear: PageState): DrawnSpan | null | undefined {
  const { name, version, mainDate, zone } = listing;
  const found = useQuery({
    queryKey: ["extent", name, version, searchOf(clear).toString()],
    queryFn: ({ signal }) => service.extent(name, { ...clear }, signal),
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
  // Where it cannot be had, the ribbon is drawn without it.
  if (found.isError) return null;
  if (found.data === undefined) return undefined;
  const { first = null, last = null } = found.data.extent[mainDate] ?? {};
  if (first === null || last === null) return null;
  const dayOf = (text: string) => localText(text, zone).slice(0, 10);
  return { first: dayOf(first), last: dayOf(last) };
}

/** The span that is drawn, which stays as it is while the window moves in it, and is zoomed by hand. */
function useDrawnSpan(window: RibbonWindow | null, records: DrawnSpan | null | undefined) {
  const [drawn, setDrawn] = useState<DrawnSpan | null>(null);
  const [byHand, setByHand] = useState<DrawnSpan | null>(null);
  const isHeld = records != null && byHand !== null && holds(byHand, window, records);
  const around = records == null ? null : spanAround(window, records, drawn);
  const span = isHeld ? byHand : around;
  // What is drawn now is what the next window is compared with.
  if (around !== null && around !== drawn) setDrawn(around);
  if (byHand !== null && records != null && !isHeld) setByHand(null);
  const zoom = (factor: number, day: string) => {
    if (records == null) return;
    setByHand(zoomed(span ?? records, factor, day, { window, records }));
  };
  return { span, zoom };
}

async function timelineOf(
  listing: ListingDetails,
  requested: PageState,
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
    return await ask(requested);
  } catch (error) {
    // A listing may limit how much can be requested: then the window alone is drawn.
    if (error instanceof OrismaError && error.status === 422) return ask(own);
    throw error;
  }
}

function Drawn(
  props: RibbonProps & {
    readonly answer: TimelineAnswer;
    readonly window: RibbonWindow | null;
    readonly onZoom: (factor: number, around: string) => void;
  },
) {
  const { listing, state, answer, newestFirst, onGo } = props;
  const { buckets, unit } = answer;
  const frame = useRef<HTMLDivElement>(null);
  const found = useRibbonEdges(props);
  const { edges, canMove } = found;
  const scale = scaleOf(buckets, newestFirst);
  const unitAt = (clientY: number, round: (units: number) => number) =>
    round((clientY - (frame.current?.getBoundingClientRect().top ?? 0)) / scale.step);
  const edgeAt = (clientY: number) => {
    const place = unitAt(clientY, Math.round);
    const edge = newestFirst ? buckets.length - place : place;
    return Math.min(buckets.length, Math.max(0, edge));
  };
  const unitUnder = (clientY: number) => {
    const row = unitAt(clientY, Math.floor);
    const at = newestFirst ? buckets.length - 1 - row : row;
    return Math.min(buckets.length - 1, Math.max(0, at));
  };
  const zoomAt = (clientY: number, factor: number) => {
    const day = buckets[unitUnder(clientY)]?.startLocal;
    if (day != null) props.onZoom(factor, day);
  };
  useWheelZoom(frame, zoomAt);
  const brush = useBrush(unitUnder, (pair) => {
    const text = windowBetween(answer, pair);
    const there = text === null ? null : withWindow(state, listing, listing.mainDate, text);
    if (there !== null) onGo(there);
  });
  return (
    <>
      <p aria-live="polite" className="min-h-12 text-sm leading-snug tabular-nums">
        {found.isMoving ? (
          <>
            <strong>{numberText(recordsBetween(buckets, edges))}</strong> records here
            <br />
            {found.moved ?? ""}
          </>
        ) : (
          <>
            per {unit}, up to {numberText(scale.most)}
            {props.window === null ? null : <Legend />}
          </>
        )}
      </p>
      <div ref={frame} dir="ltr" className="relative" style={{ height: HEIGHT, width: WIDTH }}>
        <svg
          width={WIDTH}
          height={HEIGHT}
          role="img"
          aria-label={`${buckets.length} units of a ${unit}, from ${buckets[0]?.startLocal ?? ""} to ${buckets.at(-1)?.endLocal ?? ""}; ${answer.empty} without records`}
          {...(canMove ? brush.handlers : {})}
          className={canMove ? "cursor-pointer touch-pan-x" : ""}
        >
          <RibbonBars
            {...props}
            scale={scale}
            edges={brush.span ?? edges}
            hasWindow={props.window !== null}
          />
        </svg>
        {canMove
          ? (["start", "end"] as const).map((which) => (
              <RibbonEdge
                key={which}
                which={which}
                top={scale.topOf(edges[which])}
                value={edges[which]}
                least={which === "start" ? 0 : edges.start + 1}
                most={which === "start" ? edges.end - 1 : buckets.length}
                upIsLater={newestFirst}
                text={edgeText(buckets, edges[which], which, unit)}
                onMove={(edge) => found.moveThenRest(found.with(which, edge))}
                onZoom={(factor) => {
                  const at = which === "start" ? edges.start : edges.end - 1;
                  const day = buckets[at]?.startLocal;
                  if (day != null) props.onZoom(factor, day);
                }}
                onDrag={(clientY) => found.drag(found.with(which, edgeAt(clientY)))}
                onDrop={found.drop}
              />
            ))
          : null}
      </div>
    </>
  );
}

/** What the bars of a window and the lines on them are. */
function Legend() {
  return (
    <span className="flex items-center gap-x-1.5 text-xs whitespace-nowrap">
      <span className="flex items-center gap-1">
        <span aria-hidden className="inline-block h-2.5 w-3 bg-primary" /> this period
      </span>
      <span className="flex items-center gap-1">
        <span aria-hidden className="inline-block h-3 w-0.5 bg-accent" /> as long before
      </span>
    </span>
  );
}

/** What is pressed and drawn over becomes the window: a unit, or a span of them. */
function useBrush(unitUnder: (clientY: number) => number, onBrushed: (pair: EdgePair) => void) {
  const [brushed, setBrushed] = useState<{ readonly from: number; readonly to: number } | null>(
    null,
  );
  const span =
    brushed === null
      ? null
      : {
          start: Math.min(brushed.from, brushed.to),
          end: Math.max(brushed.from, brushed.to) + 1,
        };
  return {
    /** What is drawn over now. */
    span,
    handlers: {
      onPointerDown: (event: PointerEvent<SVGElement>) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const at = unitUnder(event.clientY);
        setBrushed({ from: at, to: at });
      },
      onPointerMove: (event: PointerEvent<SVGElement>) => {
        if (brushed !== null) setBrushed({ ...brushed, to: unitUnder(event.clientY) });
      },
      onPointerUp: () => {
        if (span !== null) onBrushed(span);
        setBrushed(null);
      },
      onPointerCancel: () => setBrushed(null),
    },
  };
}

/** Zooms by the wheel with Ctrl, which is what a pinch of two fingers sends; else the page scrolls. */
function useWheelZoom(
  frame: RefObject<HTMLElement | null>,
  zoomAt: (clientY: number, factor: number) => void,
) {
  const zoom = useRef(zoomAt);
  useEffect(() => {
    zoom.current = zoomAt;
  });
  useEffect(() => {
    const element = frame.current;
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey) return;
      // Else the page itself would be zoomed.
      event.preventDefault();
      zoom.current(event.clientY, event.deltaY > 0 ? ZOOM_STEP : 1 / ZOOM_STEP);
    };
    element?.addEventListener("wheel", onWheel, { passive: false });
    return () => element?.removeEventListener("wheel", onWheel);
  }, [frame]);
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
