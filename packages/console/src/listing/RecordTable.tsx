import type { ListingDetails } from "@orisma/client";
import type { RecordAnswer, RecordsAnswer } from "@orisma/core";
import { ArrowDown, ArrowUp } from "lucide-react";
import { Cell } from "./Cell.js";

export interface RecordTableProps {
  readonly listing: ListingDetails;
  readonly answer: RecordsAnswer;
  /** The order in effect, with `-` before a descending column. */
  readonly order: string;
  readonly onOrder: (order: string) => void;
}

/** The records of a page; headings of columns that order the records are buttons. */
export function RecordTable({ listing, answer, order, onOrder }: RecordTableProps) {
  const { shown, mainDate, labels = {} } = listing;
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Records">
      <table className="table text-[0.9375rem] tabular-nums [&_td]:py-2 [&_td]:px-3 [&_th]:px-3">
        <thead className="text-base-content">
          <tr className="border-b-2 border-base-300">
            {shown.map(({ name, type }) => (
              <Heading
                key={name}
                name={name}
                label={labels[name] ?? name}
                isNumber={type === "integer" || type === "decimal"}
                canOrder={listing.order.allowed.includes(name)}
                order={order}
                onOrder={onOrder}
              />
            ))}
          </tr>
        </thead>
        <tbody>
          {answer.records.map((record: RecordAnswer) => (
            <tr key={record.id} className="border-base-300 hover:bg-base-200">
              {shown.map((column) => (
                <Cell
                  key={column.name}
                  column={column}
                  isMainDate={column.name === mainDate}
                  value={record[column.name] ?? null}
                  display={answer.meta.display?.[String(record.id)]?.[column.name]}
                  unreadable={answer.meta.unreadable[String(record.id)]?.[column.name]}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Heading(props: {
  readonly name: string;
  readonly label: string;
  readonly isNumber: boolean;
  readonly canOrder: boolean;
  readonly order: string;
  readonly onOrder: (order: string) => void;
}) {
  const { name, label, isNumber, canOrder, order, onOrder } = props;
  const direction = order === name ? "ascending" : order === `-${name}` ? "descending" : "none";
  const align = isNumber ? "text-right" : "";
  if (!canOrder) {
    return (
      <th scope="col" className={align}>
        {label}
      </th>
    );
  }
  const Arrow = direction === "ascending" ? ArrowUp : ArrowDown;
  return (
    <th scope="col" aria-sort={direction} className={align}>
      <button
        type="button"
        className="inline-flex cursor-pointer items-center gap-1 font-semibold underline decoration-dotted underline-offset-4"
        onClick={() => onOrder(direction === "descending" ? name : `-${name}`)}
        title={`Order by ${label}`}
      >
        {label}
        <Arrow className={`size-3.5 ${direction === "none" ? "invisible" : ""}`} aria-hidden />
      </button>
    </th>
  );
}
