import type { ListingDetails } from "@orisma/client";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useLocation, useNavigate } from "react-router";
import { Message } from "../../frame/Message.js";
import { Pending, Stopped } from "../../frame/Pending.js";
import { service } from "../../service/service.js";
import { figuresAt, placeOfFigures, type FigureChoice } from "./figure-place.js";
import { Figures } from "./Figures.js";
import { searchOf, withParameters, type PageState } from "../state.js";

const UNITS = ["year", "quarter", "month", "week", "day"] as const;
const MEASURES = [
  ["sum", "sum of"],
  ["average", "average of"],
  ["min", "minimum"],
  ["max", "maximum"],
] as const;

/** What is found, counted together by one or two of its columns, as figures and as bars. */
export default function Summary(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const { labels = {}, shown } = listing;
  // Columns of other sources are read beside the records, and group none.
  const own = shown.filter(({ name }) => !name.includes("."));
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
  const { hash } = useLocation();
  const navigate = useNavigate();
  const choice = figuresAt(hash, listing);
  const { rows, columns, figure: measure } = choice;
  const go = (to: PageState, next = choice) =>
    void navigate(
      { search: searchOf(to).toString(), hash: placeOfFigures(next) },
      { preventScrollReset: true },
    );
  const choose = (changed: Partial<FigureChoice>) => go(state, { ...choice, ...changed });
  const requested = withParameters(state, { order: [], size: [] });
  const by = [rows, columns].filter((each) => each !== "");
  const found = useQuery({
    meta: { doing: "Summarising" },
    queryKey: [
      "summary",
      listing.name,
      listing.version,
      by,
      measure,
      searchOf(requested).toString(),
    ],
    queryFn: ({ signal }) =>
      service.summary(
        listing.name,
        { ...requested, by, ...(measure === "" ? {} : { measure }) },
        signal,
      ),
    placeholderData: keepPreviousData,
  });
  return (
    <div aria-busy={found.isFetching}>
      <form className="flex flex-wrap gap-4" onSubmit={(event) => event.preventDefault()}>
        <Pick
          label="Rows"
          value={rows}
          options={[{ value: "", words: "none: the total alone" }, ...dimensions]}
          onChange={(value) => choose(value === "" ? { rows: "", columns: "" } : { rows: value })}
        />
        <Pick
          label="Columns"
          value={columns}
          options={[
            { value: "", words: "none" },
            ...dimensions.filter(({ value }) => value !== rows),
          ]}
          onChange={(value) => choose({ columns: value })}
        />
        <Pick
          label="Figure"
          value={measure}
          options={[{ value: "", words: "records" }, ...measures]}
          onChange={(value) => choose({ figure: value })}
        />
      </form>
      {found.isError ? (
        <Message kind="error" title="This cannot be summarised">
          {found.error.message}
        </Message>
      ) : found.data === undefined ? (
        <Pending query={found} height="h-64" />
      ) : (
        <>
          <Stopped query={found} />
          <Figures
            answer={found.data}
            measure={measure}
            listing={listing}
            state={state}
            onNarrow={go}
          />
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
