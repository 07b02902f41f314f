import type { IntervalText } from "@orisma/core/internal";
import { inZone } from "../dates/zones.js";

const MAX_SHOWN = 4;

/** The edges of some intervals: in the zone requested, in the reader's own, in universal time. */
export function Edges(props: {
  readonly intervals: readonly IntervalText[];
  readonly zone: string;
  readonly reader: string;
}) {
  const { intervals, zone, reader } = props;
  const remaining = intervals.length - MAX_SHOWN;
  const hasReader = reader !== zone && reader !== "UTC";
  // Where days begin in universal time its column says it all.
  const hasZone = zone !== "UTC";
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Edges">
      <table className="table w-auto table-sm tabular-nums">
        <thead>
          <tr>
            <th scope="col">
              <span className="sr-only">edge</span>
            </th>
            {hasZone ? <th scope="col">{zone}</th> : null}
            {hasReader ? <th scope="col">{reader}, yours</th> : null}
            <th scope="col">UTC</th>
          </tr>
        </thead>
        <tbody>
          {intervals.slice(0, MAX_SHOWN).flatMap((each, index) => [
            <tr key={`${index} start`}>
              <th scope="row">from</th>
              {hasZone ? <td>{shown(each.startLocal)}</td> : null}
              {hasReader ? <td>{shown(inZone(each.start, reader))}</td> : null}
              <td>{shown(each.start)}</td>
            </tr>,
            <tr key={`${index} end`} className="border-b-2 border-base-300">
              <th scope="row">before</th>
              {hasZone ? <td>{shown(each.endLocal)}</td> : null}
              {hasReader ? <td>{shown(inZone(each.end, reader))}</td> : null}
              <td>{shown(each.end)}</td>
            </tr>,
          ])}
        </tbody>
      </table>
      {remaining > 0 ? (
        <p className="mt-1 text-sm">and {remaining.toLocaleString("en-GB")} more</p>
      ) : null}
    </div>
  );
}

function shown(text: string | null): string {
  return text === null ? "open" : text.replace("T", " ");
}
