import { OrismaError, type ListingDetails } from "@orisma/client";
import type { TimelineAnswer } from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { service } from "../service/service.js";
import { RibbonBars } from "./RibbonBars.js";
import { RibbonEdge } from "./RibbonEdge.js";
import { Undated } from "./Undated.js";
import { numberText } from "./counts.js";
import { parametersOn, withoutColumn, withWindow } from "./narrowing.js";
import { nameOf, recordsBetween, surroundings, windowBetween, type EdgePair } from "./ribbon.js";
import type { RibbonProps } from "./ribbon-props.js";
import { HEIGHT, WIDTH, scaleOf } from "./ribbon-scale.js";
import { searchOf, withParameters, type PageState } from "./state.js";
import { useRibbonEdges, type RibbonWindow } from "./useRibbonEdges.js";

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
  const around = asksAround(props, start ?? null, end ?? null);
  const own = withParameters(state, { order: [], size: [] });
  const found = useQuery({
    meta: { doing: "Counting by time" },
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
        <Drawn
          key={`${start ?? ""} ${end ?? ""} ${answer.buckets[0]?.startLocal ?? ""} ${answer.unit}`}
          {...props}
          answer={answer}
          window={strings.length === 0 ? null : { start: start ?? null, end: end ?? null }}
        />
      )}
      {answer === undefined ? null : <Undated answer={answer} onBlank={props.onBlank} />}
    </section>
  );
}

/** The same page with as much time around its window as it has; null where that cannot be requested. */
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
  props: RibbonProps & { readonly answer: TimelineAnswer; readonly window: RibbonWindow | null },
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
  const goToUnit = (clientY: number) => {
    const row = unitAt(clientY, Math.floor);
    const at = newestFirst ? buckets.length - 1 - row : row;
    const text = windowBetween(answer, { start: at, end: at + 1 });
    const there = text === null ? null : withWindow(state, listing, listing.mainDate, text);
    if (there !== null) onGo(there);
  };
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
            if (canMove) goToUnit(event.clientY);
          }}
          className={canMove ? "cursor-pointer" : ""}
        >
          <RibbonBars {...props} scale={scale} edges={edges} hasWindow={props.window !== null} />
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
                onDrag={(clientY) => found.drag(found.with(which, edgeAt(clientY)))}
                onDrop={found.drop}
              />
            ))
          : null}
      </div>
    </>
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
