import type { ListingDetails } from "@orisma/client";
import { narrowable } from "../narrowing.js";
import type { Opened } from "../Sentence.js";

/** What the sentence can be made to say besides. */
export function AddEditor(props: {
  readonly listing: ListingDetails;
  readonly onOpen: (opened: Opened) => void;
}) {
  const { listing, onOpen } = props;
  const { labels = {}, mainDate, parameters, filter } = listing;
  const columns = narrowable(listing);
  const hidden = [
    ...new Set(
      parameters.flatMap(({ column }) =>
        column === undefined || columns.some(({ name }) => name === column) ? [] : [column],
      ),
    ),
  ];
  const searches = parameters.filter(({ type }) => type === "search");
  const names = [...columns.map(({ name }) => name), ...hidden];
  return (
    <ul className="flex flex-wrap gap-2">
      {names.map((name) => (
        <li key={name}>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => onOpen({ kind: "column", column: name })}
          >
            {labels[name] ?? name}{" "}
            {name === mainDate ? <span className="opacity-80">(the main date)</span> : null}
          </button>
        </li>
      ))}
      {searches.map(({ name, label = name }) => (
        <li key={name}>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => onOpen({ kind: "search", parameter: name })}
          >
            {label} …
          </button>
        </li>
      ))}
      {filter === undefined ? null : (
        <li>
          <button type="button" className="btn btn-sm" onClick={() => onOpen({ kind: "tree" })}>
            groups of conditions
          </button>
        </li>
      )}
    </ul>
  );
}
