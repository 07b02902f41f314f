import type { ListingDetails } from "@orisma/client";
import type { RecordValue, SummaryAnswer, SummaryGroup } from "@orisma/core/internal";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";
import { Message } from "../frame/Message.js";
import { Pending, Stopped } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { numberText } from "./counts.js";
import { searchOf, withParameters, type PageState } from "./state.js";

const UNITS = ["year", "quarter", "month", "week", "day"] as const;
const MEASURES = [
  ["sum", "sum of"],
  ["average", "average of"],
  ["least", "least"],
  ["greatest", "greatest"],
] as const;

/** Groups that are drawn at most. */
const MOST_DRAWN = 60;

/** What is found, counted together by one or two of its columns, as figures and as bars. */
export default function Summary(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const { labels = {}, mainDate, shown, derived = {} } = listing;
  const own = shown.filter(({ name }) => !(name in derived) && !name.includes("."));
  const dimensions = own.flatMap(({ name, type }) =>
    type === "date"
      ? UNITS.map((unit) => ({
          value: `${name}:${unit}`,
          words: `${labels[name] ?? name}, by ${unit}`,
        }))
      : [{ value: name, words: labels[name] ?? name }],
  );
  const numbers = own.filter(({ type }) => type === "integer" || type === "decimal");
  const measures = numbers.flatMap(({ name }) =>
    MEASURES.map(([value, words]) => ({
      value: `${value}:${name}`,
      words: `${words} ${labels[name] ?? name}`,
    })),
  );
  const [rows, setRows] = useState(`${mainDate}:month`);
  const [columns, setColumns] = useState("");
  const [measure, setMeasure] = useState("");
  const asked = withParameters(state, { order: [], size: [] });
  const by = [rows, columns].filter((each) => each !== "");
  const found = useQuery({
    meta: { doing: "Counting them together" },
    queryKey: ["summary", listing.name, listing.version, by, measure, searchOf(asked).toString()],
    queryFn: ({ signal }) =>
      service.summary(
        listing.name,
        { ...asked, by, ...(measure === "" ? {} : { measure }) },
        signal,
      ),
    placeholderData: keepPreviousData,
  });
  return (
    <div aria-busy={found.isFetching}>
      <form className="flex flex-wrap gap-4" onSubmit={(event) => event.preventDefault()}>
        <Pick label="Rows" value={rows} options={dimensions} onChange={setRows} />
        <Pick
          label="Columns"
          value={columns}
          options={[
            { value: "", words: "none" },
            ...dimensions.filter(({ value }) => value !== rows),
          ]}
          onChange={setColumns}
        />
        <Pick
          label="Figure"
          value={measure}
          options={[{ value: "", words: "records" }, ...measures]}
          onChange={setMeasure}
        />
      </form>
      {found.isError ? (
        <Message kind="error" title="This cannot be counted together">
          {found.error.message}
        </Message>
      ) : found.data === undefined ? (
        <Pending query={found} height="h-64" />
      ) : (
        <>
          <Stopped query={found} />
          <Figures answer={found.data} measure={measure} listing={listing} />
        </>
      )}
    </div>
  );
}

function Pick(props: {
  readonly label: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly words: string }[];
  readonly onChange: (value: string) => void;
}) {
  const { label, value, options, onChange } = props;
  return (
    <label className="flex flex-col text-sm font-medium">
      {label}
      <select
        className="select w-56"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.words}
          </option>
        ))}
      </select>
    </label>
  );
}

function Figures(props: {
  readonly answer: SummaryAnswer;
  readonly measure: string;
  readonly listing: ListingDetails;
}) {
  const { answer, measure, listing } = props;
  const { by, groups, totals, grand } = answer;
  const figure = (group: SummaryGroup | undefined): RecordValue =>
    group === undefined ? null : measure === "" ? group.records : (group.measures[measure] ?? null);
  const isCross = by.length === 2;
  const rows = isCross ? (totals[0] ?? []) : groups;
  const columns = isCross ? (totals[1] ?? []) : [];
  const cells = new Map(groups.map((group) => [JSON.stringify(group.of), group]));
  const cell = (row: SummaryGroup, column: SummaryGroup) =>
    figure(cells.get(JSON.stringify([row.of[0] ?? null, column.of[0] ?? null])));
  const most = Math.max(0, ...rows.map((row) => Math.abs(Number(figure(row) ?? 0))));
  const drawn = rows.slice(0, MOST_DRAWN);
  const wide = columns.slice(0, MOST_DRAWN);
  return (
    <>
      <div
        className="mt-4 max-h-[70vh] overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Figures"
      >
        <table className="table table-sm w-auto tabular-nums">
          <thead className="text-base-content">
            <tr>
              <th scope="col">{dimensionName(by[0], listing)}</th>
              {wide.map((column) => (
                <th scope="col" key={groupName(column, by[1])} className="text-end">
                  {groupName(column, by[1])}
                </th>
              ))}
              <th scope="col" className="text-end">
                {isCross ? "together" : measure === "" ? "records" : measure.replace(":", " of ")}
              </th>
              <th scope="col" className="w-64">
                <span className="sr-only">as a bar</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {drawn.map((row) => (
              <tr key={groupName(row, by[0])} className="border-base-300">
                <th scope="row" className="font-normal whitespace-nowrap">
                  {groupName(row, by[0])}
                </th>
                {wide.map((column) => (
                  <td key={groupName(column, by[1])} className="text-end">
                    {valueText(cell(row, column))}
                  </td>
                ))}
                <td className="text-end">{valueText(figure(row))}</td>
                <td>
                  <span
                    aria-hidden
                    className="block h-3 bg-primary"
                    style={{
                      width: `${most === 0 ? 0 : (100 * Math.abs(Number(figure(row) ?? 0))) / most}%`,
                    }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
          <tfoot className="text-base-content">
            <tr className="border-t-2 border-base-300">
              <th scope="row">all</th>
              {wide.map((column) => (
                <td key={groupName(column, by[1])} className="text-end font-semibold">
                  {valueText(figure(column))}
                </td>
              ))}
              <td className="text-end font-semibold">{valueText(figure(grand))}</td>
              <td />
            </tr>
          </tfoot>
        </table>
      </div>
      {rows.length > drawn.length || columns.length > wide.length ? (
        <p className="mt-1 text-sm">
          The first {MOST_DRAWN} of {numberText(Math.max(rows.length, columns.length))} are shown;
          all of them are in the file.
        </p>
      ) : null}
      <button
        type="button"
        className="btn btn-sm mt-3"
        onClick={() =>
          save(
            [
              [
                by[0] ?? "",
                ...columns.map((column) => groupName(column, by[1])),
                isCross ? "together" : "figure",
              ],
              ...[...rows, null].map((row) => [
                row === null ? "all" : groupName(row, by[0]),
                ...columns.map((column) =>
                  String((row === null ? figure(column) : cell(row, column)) ?? ""),
                ),
                String(figure(row ?? grand) ?? ""),
              ]),
            ],
            `${listing.name}-summary.csv`,
          )
        }
      >
        <Download className="size-4" aria-hidden /> These figures as CSV
      </button>
    </>
  );
}

function dimensionName(by: string | undefined, { labels = {} }: ListingDetails): string {
  const [name = "", unit] = (by ?? "").split(/:(?=[a-z]+$)/);
  return unit === undefined ? (labels[name] ?? name) : `${labels[name] ?? name}, ${unit}`;
}

/** The name of a group of a dimension: a unit of time is named as it is written. */
function groupName({ of: [value = null] }: SummaryGroup, by: string | undefined): string {
  if (value === null) return "blank";
  const text = String(value);
  switch (/:([a-z]+)$/.exec(by ?? "")?.[1]) {
    case "year":
      return text.slice(0, 4);
    case "quarter":
      return `${text.slice(0, 4)}-Q${Math.ceil(Number(text.slice(5, 7)) / 3)}`;
    case "month":
      return text.slice(0, 7);
    case undefined:
      return text;
    default:
      return text.slice(0, 10);
  }
}

const FIGURE = new Intl.NumberFormat(undefined, { maximumFractionDigits: 6 });

function valueText(value: RecordValue): string {
  if (value === null) return "–";
  const number = Number(value);
  return Number.isFinite(number) ? FIGURE.format(number) : String(value);
}

/** Saves rows as CSV (RFC 4180). */
function save(rows: readonly (readonly string[])[], name: string): void {
  const field = (text: string) =>
    /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  const text = rows.map((row) => row.map(field).join(",")).join("\r\n");
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([`${text}\r\n`], { type: "text/csv" }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
