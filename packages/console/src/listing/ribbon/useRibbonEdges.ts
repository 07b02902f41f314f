import { takesDates, type DateParameter, type TimelineAnswer } from "@orisma/core/internal";
import { useEffect, useRef, useState } from "react";
import { endParameters, parametersOn, withWindow } from "../narrowing.js";
import { edgesOf, keptDays, windowBetween, type EdgePair } from "./ribbon.js";
import type { RibbonProps } from "./ribbon-props.js";
import { withParameters, type PageState } from "../state.js";
import type { RibbonWindow } from "./drawn-span.js";

/** Milliseconds without a move until exact counts are requested. */
const REST_MS = 600;

/** The edges of a ribbon's window, as they are moved by hand or by keys. */
export function useRibbonEdges(
  props: Omit<RibbonProps, "page" | "onBlank" | "newestFirst"> & {
    readonly answer: TimelineAnswer;
    readonly window: RibbonWindow | null;
  },
) {
  const { listing, state, answer, window, onGo } = props;
  const { buckets } = answer;
  const set =
    window === null
      ? { start: 0, end: buckets.length }
      : edgesOf(buckets, window.start, window.end);
  // What was moved is so of the window and the units that were drawn then.
  const drawn = `${window?.start ?? ""} ${window?.end ?? ""} ${buckets[0]?.startLocal ?? ""} ${answer.unit}`;
  const [move, setMove] = useState<{ readonly pair: EdgePair; readonly of: string } | null>(null);
  const moved = move?.of === drawn ? move.pair : null;
  const setMoved = (pair: EdgePair | null) => setMove(pair && { pair, of: drawn });
  const edges = moved ?? set;
  const textOf = (pair: EdgePair) => windowBetween(answer, pair, keptDays(window, set, pair));
  const pageOf = (pair: EdgePair): PageState | null => {
    const text = textOf(pair);
    const there = text === null ? null : withWindow(state, listing, listing.mainDate, text);
    return there === null ? null : withUnmovedEnds(props, there, { set, moved: pair });
  };
  const unit = windowBetween(answer, { start: 0, end: 1 });
  const canMove = unit !== null && withWindow(state, listing, listing.mainDate, unit) !== null;

  // What was moved takes effect when it rests.
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(rest.current), []);
  return {
    edges,
    /** What is moved, as a window; nothing while it is not moved. */
    moved: moved === null ? null : textOf(moved),
    isMoving: moved !== null,
    canMove,
    /** Edges with one of them moved, at least a unit from the other. */
    with: (which: keyof EdgePair, edge: number): EdgePair =>
      which === "start"
        ? { start: Math.min(edge, edges.end - 1), end: edges.end }
        : { start: edges.start, end: Math.max(edge, edges.start + 1) },
    drag: setMoved,
    drop: () => {
      const there = moved === null ? null : pageOf(moved);
      if (there === null) setMoved(null);
      else onGo(there);
    },
    moveThenRest: (pair: EdgePair) => {
      clearTimeout(rest.current);
      setMoved(pair);
      rest.current = setTimeout(() => {
        const there = pageOf(pair);
        if (there !== null) onGo(there);
      }, REST_MS);
    },
  };
}

/** The page with edges that were moved; an end that was not stays as it was written. */
function withUnmovedEnds(
  {
    listing,
    windows,
    applied,
    window,
  }: Pick<RibbonProps, "listing" | "windows" | "applied"> & {
    readonly window: RibbonWindow | null;
  },
  there: PageState,
  { set, moved }: { readonly set: EdgePair; readonly moved: EdgePair },
): PageState {
  const { from, to } = endParameters(parametersOn(listing, listing.mainDate).filter(takesDates));
  const own = windows?.filter(({ column }) => column === listing.mainDate) ?? [];
  const [only, another] = own;
  // Of several windows the end may be that of another than this parameter's.
  const written = (end: DateParameter | undefined, which: "start" | "end") => {
    const value = end === undefined ? undefined : applied?.[end.name]?.[0];
    const isOf = which === "start" ? only?.startLocal : only?.endLocal;
    return end === undefined ||
      value === undefined ||
      another !== undefined ||
      there[end.name] === undefined ||
      moved[which] !== set[which] ||
      isOf !== window?.[which]
      ? {}
      : { [end.name]: value };
  };
  return withParameters(there, { ...written(from, "start"), ...written(to, "end") });
}
