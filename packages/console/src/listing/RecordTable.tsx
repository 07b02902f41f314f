import type { ListingDetails } from "@orisma/client";
import type { RecordAnswer, RecordsAnswer } from "@orisma/core/internal";
import { ArrowDown, ArrowUp } from "lucide-react";
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from "react";
import { CellFace, groupsThousands } from "./Cell.js";
import { CellMenu } from "./CellMenu.js";
import { canChange } from "./changes.js";
import { longColumns } from "./long-text.js";
import { canNarrow, type ShownColumn } from "./narrowing.js";
import { SLIM_LINE_PX } from "./SlimLine.js";
import type { PageState } from "./state.js";
import { useWholeText } from "./WholeText.js";

export interface RecordTableProps {
  readonly listing: ListingDetails;
  /** The columns to show, in their order. */
  readonly columns: readonly ShownColumn[];
  readonly state: PageState;
  readonly answer: RecordsAnswer;
  /** The order in effect, with `-` before a descending column; the first counts first. */
  readonly orders: readonly string[];
  readonly onOrder: (orders: readonly string[]) => void;
  readonly onGo: (state: PageState) => void;
  readonly onEdit: (column: string) => void;
}

interface OpenCell {
  readonly id: string | number;
  readonly column: ShownColumn;
  readonly record: RecordAnswer;
  readonly anchor: HTMLElement;
}

/** The records of a page; a cell narrows its column and is edited, a heading puts them in order. */
export function RecordTable(props: RecordTableProps) {
  const { listing, columns, state, answer, orders, onOrder, onGo, onEdit } = props;
  const { mainDate, labels = {} } = listing;
  const [open, setOpen] = useState<OpenCell | null>(null);
  const unreadableOf = (id: string | number, name: string) =>
    answer.meta.unreadable[String(id)]?.[name];
  const hasMenu = (name: string) => canNarrow(listing, name) || canChange(listing, name);
  const first = columns.find(({ name }) => hasMenu(name));
  const { widest, others } = longColumns(columns, answer.records);
  const grouped = new Set(
    columns
      .filter(({ name }) => groupsThousands(answer.records.map((record) => record[name])))
      .map(({ name }) => name),
  );
  const whole = useWholeText();
  const { region, isWide } = useWidth();
  return (
    // Headings stay in sight while the page scrolls, unless the table scrolls by itself.
    <div
      ref={region}
      className={isWide ? "overflow-x-auto" : ""}
      tabIndex={0}
      role="region"
      aria-label="Records"
      {...whole.events}
    >
      {whole.shown}
      <table className="table text-sm whitespace-nowrap tabular-nums [&_td]:px-0.5 [&_td]:py-0 [&_th]:px-2 [&_th]:py-2">
        <thead
          className={`text-base-content ${isWide ? "" : "sticky z-[5] bg-base-100"}`}
          style={{ top: SLIM_LINE_PX }}
        >
          <tr className="border-b-2 border-base-300">
            {columns.map(({ name, type }) => (
              <Heading
                key={name}
                name={name}
                label={labels[name] ?? name}
                isNumber={type === "integer" || type === "decimal"}
                isWidest={name === widest}
                isNarrowed={answer.meta.clauses?.some(
                  ({ column, parameters }) => column === name && !parameters.includes("order"),
                )}
                canOrder={listing.order.allowed.includes(name)}
                orders={orders}
                onOrder={onOrder}
              />
            ))}
          </tr>
        </thead>
        <tbody onKeyDown={moveByKey}>
          {answer.records.map((record: RecordAnswer, row) => (
            <tr key={record.id} className="border-base-300 hover:bg-base-200">
              {columns.map((column) => {
                const { name, type } = column;
                const face = (
                  // Each value runs in the direction of its own script.
                  <bdi>
                    <CellFace
                      zone={listing.zone}
                      column={column}
                      isMainDate={name === mainDate}
                      value={record[name] ?? null}
                      display={answer.meta.display?.[String(record.id)]?.[name]}
                      unreadable={unreadableOf(record.id, name)}
                      isGrouped={grouped.has(name)}
                    />
                  </bdi>
                );
                const isNumber = type === "integer" || type === "decimal";
                const align = isNumber ? "text-end" : "text-start";
                const isCut = name === widest || others.has(name);
                const cut = isCut ? "truncate" : "";
                return (
                  <td
                    key={name}
                    className={`${align} ${name === widest ? "w-full max-w-0" : isCut ? "max-w-64" : ""}`}
                  >
                    {hasMenu(name) ? (
                      <button
                        type="button"
                        tabIndex={row === 0 && column === first ? 0 : -1}
                        aria-haspopup="dialog"
                        className={`block min-h-(--row-height) w-full min-w-6 cursor-pointer px-1.5 ${align} ${cut} hover:bg-base-300`}
                        onClick={(event) => {
                          whole.hide();
                          setOpen({ id: record.id, column, record, anchor: event.currentTarget });
                        }}
                      >
                        {face}
                      </button>
                    ) : (
                      <span className={`block px-1.5 py-(--row-padding) ${cut}`}>{face}</span>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {open === null ? null : (
        <CellMenu
          key={`${open.id} ${open.column.name}`}
          listing={listing}
          state={state}
          column={open.column}
          id={open.id}
          value={open.record[open.column.name] ?? null}
          unreadable={unreadableOf(open.id, open.column.name)}
          anchor={open.anchor}
          onGo={(next) => {
            setOpen(null);
            onGo(next);
          }}
          onEdit={() => {
            setOpen(null);
            onEdit(open.column.name);
          }}
          onClose={() => setOpen(null)}
        />
      )}
    </div>
  );
}

/** Whether a table is wider than its place, and then scrolls in it. */
function useWidth() {
  const region = useRef<HTMLDivElement>(null);
  const [isWide, setWide] = useState(false);
  useLayoutEffect(() => {
    const place = region.current;
    const table = place?.querySelector("table");
    if (place == null || table == null) return;
    const watch = new ResizeObserver(() => setWide(table.scrollWidth > place.clientWidth + 1));
    watch.observe(place);
    watch.observe(table);
    return () => watch.disconnect();
  }, []);
  return { region, isWide };
}

/** Moves from cell to cell with the arrows: one stop of the tabulator is enough for all of them. */
function moveByKey(event: KeyboardEvent<HTMLElement>): void {
  const cell = (event.target as HTMLElement).closest("td");
  const row = cell?.parentElement;
  if (cell === null || row == null) return;
  const forward = getComputedStyle(cell).direction === "rtl" ? "ArrowLeft" : "ArrowRight";
  const backward = forward === "ArrowLeft" ? "ArrowRight" : "ArrowLeft";
  const at = [...row.children].indexOf(cell);
  const inRow = (other: Element | null) => other?.children[at] ?? null;
  const beside = (element: Element, step: "nextElementSibling" | "previousElementSibling") => {
    let found = element[step];
    while (found?.querySelector("button") === null) found = found[step];
    return found;
  };
  const target: Partial<Record<string, () => Element | null>> = {
    [forward]: () => beside(cell, "nextElementSibling"),
    [backward]: () => beside(cell, "previousElementSibling"),
    ArrowDown: () => inRow(row.nextElementSibling),
    ArrowUp: () => inRow(row.previousElementSibling),
    Home: () => [...row.children].find((each) => each.querySelector("button") !== null) ?? null,
    End: () => [...row.children].findLast((each) => each.querySelector("button") !== null) ?? null,
  };
  const find = target[event.key];
  if (find === undefined) return;
  event.preventDefault();
  const button = find()?.querySelector("button");
  if (button == null) return;
  for (const each of event.currentTarget.querySelectorAll("button[tabindex='0']")) {
    each.setAttribute("tabindex", "-1");
  }
  button.setAttribute("tabindex", "0");
  button.focus();
}

function Heading(props: {
  readonly name: string;
  readonly label: string;
  readonly isNumber: boolean;
  /** Whether the column takes the room that the others leave. */
  readonly isWidest: boolean;
  readonly isNarrowed: boolean | undefined;
  readonly canOrder: boolean;
  readonly orders: readonly string[];
  readonly onOrder: (orders: readonly string[]) => void;
}) {
  const { name, label, isNumber, isWidest, isNarrowed = false, canOrder, orders, onOrder } = props;
  const place = orders.findIndex((each) => each.replace(/^-/, "") === name);
  const own = orders[place];
  const direction = own === undefined ? "none" : own === name ? "ascending" : "descending";
  const align = isNumber ? "text-end" : "text-start";
  const narrowed = isNarrowed ? (
    <>
      <span aria-hidden className="me-1 inline-block h-3 w-1 bg-accent" />
      <span className="sr-only">narrowed: </span>
    </>
  ) : null;
  if (!canOrder) {
    return (
      <th scope="col" className={align} title={`This listing does not sort by ${label}`}>
        {isWidest ? <span aria-hidden className="block w-32" /> : null}
        {narrowed}
        {label}
      </th>
    );
  }
  const Arrow = direction === "ascending" ? ArrowUp : ArrowDown;
  return (
    <th scope="col" aria-sort={direction} className={align}>
      {isWidest ? <span aria-hidden className="block w-32" /> : null}
      {narrowed}
      <button
        type="button"
        className="inline-flex cursor-pointer items-center gap-1 font-semibold underline decoration-dotted underline-offset-4"
        onClick={({ shiftKey }) => {
          const next = direction === "descending" ? name : `-${name}`;
          if (!shiftKey) onOrder([next]);
          else if (own === undefined) onOrder([...orders, next]);
          else onOrder(orders.with(place, next));
        }}
        title={`Sort by ${label}; with Shift after the others`}
      >
        {label}
        <Arrow className={`size-3.5 ${direction === "none" ? "invisible" : ""}`} aria-hidden />
        {orders.length > 1 && own !== undefined ? (
          <span className="text-xs">{place + 1}</span>
        ) : null}
      </button>
    </th>
  );
}
