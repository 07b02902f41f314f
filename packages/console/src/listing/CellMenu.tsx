import type { ListingDetails } from "@orisma/client";
import { useEffect, useRef } from "react";
import { useLocation, useNavigate } from "react-router";
import { useOutside } from "../frame/useOutside.js";
import { useInspected } from "../service/inspected.js";
import { CellEdit } from "./CellEdit.js";
import { cellOffers, type RequestedCell } from "./cell-offers.js";
import { canNarrow } from "./narrowing.js";
import { placeOfRecord } from "./record-place.js";
import { RecordActions } from "./RecordActions.js";
import type { PageState } from "./state.js";

export interface CellMenuProps extends RequestedCell {
  readonly id: string | number;
  /** The cell that it belongs to. */
  readonly anchor: HTMLElement;
  readonly onGo: (state: PageState) => void;
  readonly onEdit: () => void;
  readonly onClose: () => void;
}

/** What can be done from one cell: edit it, change its record, narrow by it, open its clause, and see it as it is stored. */
export function CellMenu(props: CellMenuProps) {
  const { listing, column, id, anchor, onGo, onEdit, onClose } = props;
  const place = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const { search } = useLocation();
  const offers = cellOffers(props);
  useEffect(() => {
    const menu = place.current;
    if (menu === null) return;
    const { left, bottom, top } = anchor.getBoundingClientRect();
    menu.showPopover();
    const { width, height } = menu.getBoundingClientRect();
    const below = bottom + height < innerHeight ? bottom : Math.max(8, top - height);
    // In the coordinates of the page, with which it scrolls.
    menu.style.left = `${scrollX + Math.max(8, Math.min(left, innerWidth - width - 8))}px`;
    menu.style.top = `${scrollY + below}px`;
    menu.querySelector<HTMLElement>("input, select, button")?.focus();
  }, [anchor]);
  useOutside(place, onClose);
  const isEditable = listing.rights.editable.includes(column.name);
  return (
    <div
      ref={place}
      popover="manual"
      role="dialog"
      aria-label={`From this ${listing.labels?.[column.name] ?? column.name}`}
      className="absolute m-0 max-w-80 border-s-4 border-accent bg-base-200 p-3 text-base text-base-content shadow-lg"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        anchor.focus();
        onClose();
      }}
    >
      {isEditable ? (
        <CellEdit
          listing={listing}
          state={props.state}
          column={column}
          id={id}
          value={props.value}
          onDone={onClose}
        />
      ) : null}
      <ul className="flex flex-col items-stretch">
        <RecordActions listing={listing} state={props.state} id={id} onDone={onClose} />
        {offers.map(({ words, state }) => (
          <li key={words}>
            <button
              type="button"
              className="min-h-9 w-full cursor-pointer px-2 text-start hover:bg-base-300"
              onClick={() => onGo(state)}
            >
              {words}
            </button>
          </li>
        ))}
        <li>
          <button
            type="button"
            className="min-h-9 w-full cursor-pointer px-2 text-start hover:bg-base-300"
            onClick={() => {
              onClose();
              void navigate({ search, hash: placeOfRecord(id) });
            }}
          >
            why this record is here
          </button>
        </li>
        {canNarrow(listing, column.name) ? (
          <li>
            <button
              type="button"
              className="min-h-9 w-full cursor-pointer px-2 text-start hover:bg-base-300"
              onClick={onEdit}
            >
              more of {listing.labels?.[column.name] ?? column.name} …
            </button>
          </li>
        ) : null}
      </ul>
      {column.type === "date" ? <Stored listing={listing} column={column.name} id={id} /> : null}
    </div>
  );
}

/** The value as it came and how it was read, for those who may see the source. */
function Stored(props: {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly id: string | number;
}) {
  const { listing, column, id } = props;
  const found = useInspected(listing, String(id));
  const cell = found.data?.cells.find((each) => each.column === column);
  if (cell === undefined) return null;
  const { raw, state, reading, long } = cell;
  return (
    <p className="mt-2 max-w-72 border-t border-base-300 pt-2 text-sm">
      Stored as {raw === null ? "nothing" : <code className="break-all">{raw}</code>}
      {reading === undefined ? "" : `, ${reading.encoding}`}
      {long === undefined ? (state === "text" ? "" : `, ${state}`) : `, read as ${long}`}
    </p>
  );
}
