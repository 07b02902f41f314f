import type { ListingDetails } from "@orisma/client";
import {
  csvText,
  type RecordValue,
  type SummaryAnswer,
  type SummaryGroup,
} from "@orisma/core/internal";
import { Download } from "lucide-react";
import { Suspense, lazy, useMemo } from "react";
import { codeOf } from "../../service/connection.js";
import { numberText } from "../counts.js";
import { narrowedTo } from "./group-narrowing.js";
import type { Series } from "./Plot.js";
import { saveFile } from "./save-file.js";
import type { PageState } from "../state.js";

const Plot = lazy(() => codeOf(() => import("./Plot.js")));

/** Groups that are drawn at most, and series of a plot. */
const MAX_DRAWN = 60;
const MAX_SERIES = 8;

/** Figures in rows, and in columns where there are two dimensions. */
interface FigureTable {
  readonly by: readonly string[];
  readonly heading: string;
  readonly rows: readonly SummaryGroup[];
  readonly columns: readonly SummaryGroup[];
  readonly grand: SummaryGroup;
  readonly figureOf: (group: SummaryGroup | undefined) => RecordValue;
  readonly cellOf: (row: SummaryGroup, column: SummaryGroup) => RecordValue;
}

function tableOf(
  { by, groups, totals, grand }: SummaryAnswer,
  measure: string,
  listing: ListingDetails,
): FigureTable {
  const figureOf = (group: SummaryGroup | undefined): RecordValue =>
    group === undefined ? null : measure === "" ? group.records : (group.measures[measure] ?? null);
  const isCross = by.length === 2;
  const cells = new Map(groups.map((group) => [JSON.stringify(group.of), group]));
  return {
    by,
    heading: isCross ? "together" : measure === "" ? "records" : measureName(measure, listing),
    rows: isCross ? (totals[0] ?? []) : groups,
    columns: isCross ? (totals[1] ?? []) : [],
    grand,
    figureOf,
    cellOf: (row, column) =>
      figureOf(cells.get(JSON.stringify([row.of[0] ?? null, column.of[0] ?? null]))),
  };
}

/** The figures of a summary, with a bar for each row, and as a file. */
export function Figures(props: {
  readonly answer: SummaryAnswer;
  readonly measure: string;
  readonly listing: ListingDetails;
  readonly state: PageState;
  /** Goes on with the records of a group alone. */
  readonly onNarrow: (state: PageState) => void;
}) {
  const { answer, measure, listing, state, onNarrow } = props;
  const table = useMemo(() => tableOf(answer, measure, listing), [answer, measure, listing]);
  const { rows, columns, by } = table;
  const narrowed = (row: SummaryGroup | undefined, column?: SummaryGroup) => {
    const [first, second] = [row, column].map((group) => group?.of[0] ?? null);
    const byRow = row && narrowedTo(first ?? null, by[0] ?? "", listing, state);
    if (byRow == null || column === undefined) return byRow ?? null;
    return narrowedTo(second ?? null, by[1] ?? "", listing, byRow) ?? byRow;
  };
  const plotted = useMemo(() => plotOf(table), [table]);
  return (
    <>
      {plotted === null ? null : (
        <Suspense fallback={<div className="mt-4 skeleton h-72 w-full max-w-4xl" />}>
          <Plot
            {...plotted}
            isStacked={measure === "" || measure.startsWith("sum:")}
            name={`${listing.name}-summary`}
            onPick={(row, column) => {
              const to = narrowed(rows[row], columns[column]);
              if (to !== null) onNarrow(to);
            }}
          />
        </Suspense>
      )}
      {columns.length > MAX_SERIES ? (
        <p className="mt-1 text-sm">
          The first {MAX_SERIES} of {numberText(columns.length)} columns are drawn.
        </p>
      ) : null}
      <Drawn table={table} listing={listing} narrowed={narrowed} onNarrow={onNarrow} />
      {Math.max(rows.length, columns.length) > MAX_DRAWN ? (
        <p className="mt-1 text-sm">
          The first {MAX_DRAWN} of {numberText(Math.max(rows.length, columns.length))} are shown;
          all of them are in the file.
        </p>
      ) : null}
      <button
        type="button"
        className="btn btn-sm mt-3"
        onClick={() => save(linesOf(table), `${listing.name}-summary.csv`)}
      >
        <Download className="size-4" aria-hidden /> These figures as CSV
      </button>
    </>
  );
}

/** What a plot is drawn of; null where there is one figure, or none. */
function plotOf(table: FigureTable) {
  const { by, heading, rows, columns, figureOf, cellOf } = table;
  const drawn = rows.slice(0, MAX_DRAWN);
  if (by.length === 0 || drawn.length === 0) return null;
  const number = (value: RecordValue) => (value === null ? null : Number(value));
  const series: readonly Series[] =
    columns.length === 0
      ? [{ name: heading, figures: drawn.map((row) => number(figureOf(row))) }]
      : columns.slice(0, MAX_SERIES).map((column) => ({
          name: groupName(column, by[1]),
          figures: drawn.map((row) => number(cellOf(row, column))),
        }));
  return { groups: drawn.map((row) => groupName(row, by[0])), series };
}

/** The name of a row, by which the records are narrowed to it where that can be requested. */
function RowName(props: {
  readonly name: string;
  readonly to: PageState | null;
  readonly onNarrow: (state: PageState) => void;
}) {
  const { name, to, onNarrow } = props;
  if (to === null) return name;
  return (
    <button
      type="button"
      className="link link-hover"
      title={`Only ${name}`}
      onClick={() => onNarrow(to)}
    >
      {name}
    </button>
  );
}

function Drawn(props: {
  readonly table: FigureTable;
  readonly listing: ListingDetails;
  readonly narrowed: (row: SummaryGroup) => PageState | null;
  readonly onNarrow: (state: PageState) => void;
}) {
  const { table, listing, narrowed, onNarrow } = props;
  const { by, heading, rows, columns, grand, figureOf, cellOf } = table;
  const most = Math.max(0, ...rows.map((row) => Math.abs(Number(figureOf(row) ?? 0))));
  const drawn = rows.slice(0, MAX_DRAWN);
  const wide = columns.slice(0, MAX_DRAWN);
  return (
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
              {heading}
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
                <RowName name={groupName(row, by[0])} to={narrowed(row)} onNarrow={onNarrow} />
              </th>
              {wide.map((column) => (
                <td key={groupName(column, by[1])} className="text-end">
                  {valueText(cellOf(row, column))}
                </td>
              ))}
              <td className="text-end">{valueText(figureOf(row))}</td>
              <td>
                <span
                  aria-hidden
                  className="block h-3 bg-primary"
                  style={{
                    width: `${most === 0 ? 0 : (100 * Math.abs(Number(figureOf(row) ?? 0))) / most}%`,
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
                {valueText(figureOf(column))}
              </td>
            ))}
            <td className="text-end font-semibold">{valueText(figureOf(grand))}</td>
            <td />
          </tr>
        </tfoot>
      </table>
    </div>
  );
}

/** All figures as the lines of a file. */
function linesOf(table: FigureTable): readonly (readonly string[])[] {
  const { by, rows, columns, grand, figureOf, cellOf } = table;
  const heading = columns.length > 0 ? "together" : "figure";
  return [
    [by[0] ?? "", ...columns.map((column) => groupName(column, by[1])), heading],
    ...[...rows, null].map((row) => [
      row === null ? "all" : groupName(row, by[0]),
      ...columns.map((column) =>
        String((row === null ? figureOf(column) : cellOf(row, column)) ?? ""),
      ),
      String(figureOf(row ?? grand) ?? ""),
    ]),
  ];
}

function measureName(measure: string, { labels = {} }: ListingDetails): string {
  const [word = "", name = ""] = measure.split(":");
  return `${word} of ${labels[name] ?? name}`;
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
  const address = URL.createObjectURL(new Blob([csvText(rows)], { type: "text/csv" }));
  saveFile(address, name);
  URL.revokeObjectURL(address);
}
