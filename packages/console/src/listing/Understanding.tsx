import type { ListingDetails } from "@orisma/client";
import {
  BLANKS_EXPLAINED,
  type Clause,
  type ConditionExplained,
  type CompoundExplained,
  type Explanation,
  type PlanStep,
  type Statement,
} from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { Copy } from "lucide-react";
import { useState, type ReactNode } from "react";
import { Message } from "../frame/Message.js";
import { Pending } from "../frame/Pending.js";
import { service } from "../service/service.js";
import { OWN_ZONE, inZone } from "../dates/zones.js";
import { AsExpected } from "./AsExpected.js";
import { WithAndWithout } from "./WithAndWithout.js";
import type { PageState } from "./state.js";

/** How a request was understood, what each of its conditions narrowed, and how it is run. */
export default function Understanding(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
  /** What is requested, part by part. */
  readonly clauses: readonly Clause[];
}) {
  const { listing, state, clauses } = props;
  const { cursor: _page, page: _number, ...requested } = state;
  const found = useQuery({
    meta: { doing: "Explaining" },
    queryKey: ["explain", listing.name, listing.version, requested],
    queryFn: ({ signal }) => service.explain(listing.name, requested, signal),
  });
  if (found.isError) {
    return (
      <Message kind="error" title="This cannot be explained">
        {found.error.message}
      </Message>
    );
  }
  if (found.data === undefined) return <Pending query={found} height="h-64" />;
  const said = clauses.filter(({ parameters }) => !parameters.includes("order"));
  return (
    <>
      <Explained explanation={found.data} />
      <div className="mt-8">
        <Part title="Compare with expected records">
          <AsExpected key={JSON.stringify(requested)} listing={listing} state={requested} />
        </Part>
      </div>
      {said.length === 0 ? null : (
        <div className="mt-8">
          <Part title="With and without each condition">
            <WithAndWithout listing={listing} state={requested} />
          </Part>
        </div>
      )}
    </>
  );
}

function Explained({ explanation }: { readonly explanation: Explanation }) {
  const { conditions, values, compound, statements, plan, tables, zone, neighbours } = explanation;
  const { fixedFilter } = explanation;
  const isPlain =
    conditions.length + values.length === 0 && compound === null && fixedFilter === null;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-8 xl:grid-cols-2">
      <Part title="Records after each condition">
        <Narrowed explanation={explanation} />
      </Part>
      <Part title="How the request was applied">
        {isPlain ? <p>No conditions.</p> : null}
        {fixedFilter === null ? null : (
          <FilterTrace name="the listing's own filter" filter={fixedFilter} />
        )}
        {conditions.map((condition, index) => (
          <Trace key={`${index} ${condition.column}`} condition={condition} zone={zone} />
        ))}
        {values.map(({ parameters, sentence }) => (
          <dl key={sentence} className="trace">
            {parameters.map(({ parameter, sent: requested, values: found }) => (
              <div key={parameter} className="contents">
                <dt>{parameter}</dt>
                <dd>
                  sent {requested.map((text) => `“${text}”`).join(", ")}
                  {requested.join() === found.join() ? "" : `, applied as ${found.join(", ")}`}
                </dd>
              </div>
            ))}
            <dt>interval</dt>
            <dd>{sentence}</dd>
          </dl>
        ))}
        {compound === null ? null : <FilterTrace name="filter" filter={compound} />}
      </Part>
      {neighbours.length === 0 ? null : (
        <Part title="Nearest dates">
          <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Nearest dates">
            <table className="table table-sm w-auto">
              <thead>
                <tr>
                  <th scope="col">column</th>
                  <th scope="col">edge</th>
                  <th scope="col">last before it</th>
                  <th scope="col">first on or after it</th>
                </tr>
              </thead>
              <tbody className="tabular-nums">
                {neighbours.map(({ column, edge, at, before, after }) => (
                  <tr key={`${column} ${edge} ${at}`}>
                    <td>{column}</td>
                    <td>
                      {edge} {shortTime(at)}
                    </td>
                    <td>{before === null ? "none" : shortTime(before)}</td>
                    <td>{after === null ? "none" : shortTime(after)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </Part>
      )}
      <Part title="Statements" wide>
        <p className="mb-2 opacity-80">
          {Object.entries(explanation.names)
            .map(([physical, name]) => `${physical} is ${name}`)
            .join(", ")}
        </p>
        {tables === undefined ? null : (
          <p className="mb-2">
            {tables.opened} of {tables.of} tables are opened; what follows is of the first.
          </p>
        )}
        <Asked
          name={statements.parts > 1 ? `The page, first of ${statements.parts} parts` : "The page"}
          statement={statements.page}
          steps={plan.page}
        />
        {statements.count === null ? null : (
          <Asked name="The count" statement={statements.count} steps={plan.count} />
        )}
      </Part>
    </div>
  );
}

function Part(props: {
  readonly title: string;
  readonly wide?: boolean;
  readonly children: ReactNode;
}) {
  return (
    <section className={props.wide === true ? "xl:col-span-2" : ""}>
      <h3 className="mb-2 font-sentence text-xl">{props.title}</h3>
      {props.children}
    </section>
  );
}

/** A filter in CQL2, from what was written to what it means. */
function FilterTrace(props: { readonly name: string; readonly filter: CompoundExplained }) {
  const { sent: requested, sentence, canonical, contradictions } = props.filter;
  return (
    <dl className="trace">
      <dt>{props.name}</dt>
      <dd>
        <code>{requested}</code>
      </dd>
      <dt>interval</dt>
      <dd>{sentence}</dd>
      <dt>in CQL2</dt>
      <dd>
        <code className="break-words">{canonical}</code>
      </dd>
      {contradictions.map((each) => (
        <dd key={each} className="text-error">
          {each}
        </dd>
      ))}
    </dl>
  );
}

/** Each condition as a gate: what it lets through alone, and what is left behind it. */
function Narrowed({ explanation }: { readonly explanation: Explanation }) {
  const { records, steps, without } = explanation.narrowing;
  const share = (count: number | null) =>
    count === null || records === null || records === 0 ? 0 : (100 * count) / records;
  const rows = [
    { condition: "all records", alone: records, inTurn: records },
    ...steps.map((step) =>
      step.isFixed === true
        ? { ...step, condition: `${step.condition} (the listing's own)` }
        : step,
    ),
  ];
  return (
    <>
      <ol className="flex flex-col gap-3">
        {rows.map(({ condition, alone, inTurn }, index) => (
          <li key={`${index} ${condition}`}>
            <p className="flex justify-between gap-4">
              <span>{condition}</span>
              <span className="shrink-0 tabular-nums">
                <strong>{countText(inTurn)}</strong>
                {index === 0 ? "" : ` remain, ${countText(alone)} on its own`}
              </span>
            </p>
            <span aria-hidden className="relative block h-2 bg-base-300">
              <span
                className="absolute inset-y-0 left-0 border-r-2 border-accent bg-accent/25"
                style={{ width: `${share(alone)}%` }}
              />
              <span
                className="absolute inset-y-0 left-0 bg-primary"
                style={{ width: `${share(inTurn)}%` }}
              />
            </span>
          </li>
        ))}
      </ol>
      <ul className="mt-4 opacity-80">
        {Object.entries(without).map(([column, { blank, unreadable }]) => (
          <li key={column}>
            {column}: {countText(blank)} blank, {countText(unreadable)} unreadable
          </li>
        ))}
      </ul>
    </>
  );
}

/** Intervals of a window that are shown one by one. */
const MAX_SHOWN = 6;

function Trace(props: { readonly condition: ConditionExplained; readonly zone: string }) {
  const { column, side, blanks, parameters, intervals, recurring } = props.condition;
  return (
    <dl className="trace">
      <dt>column</dt>
      <dd>{column}</dd>
      {parameters.map(({ parameter, sent: requested, value, canonical }) => (
        <div key={parameter} className="contents">
          <dt>{parameter}</dt>
          <dd>
            sent “{requested}”, applied as {value}
            {canonical === value ? "" : `, the window ${canonical}`}
          </dd>
        </div>
      ))}
      <dt>{side === "inside" ? "includes" : "excludes"}</dt>
      {intervals.length + recurring.length === 0 ? <dd>nothing at all</dd> : null}
      {intervals.slice(0, MAX_SHOWN).map(({ start, end, startLocal, endLocal }) => (
        <dd key={`${startLocal} ${endLocal}`} className="tabular-nums">
          from {time(startLocal)}, before {time(endLocal)} in {props.zone}
          {OWN_ZONE === props.zone ||
          OWN_ZONE === "UTC" ||
          start === null ||
          end === null ? null : (
            <span className="block opacity-80">
              {time(inZone(start, OWN_ZONE))}, before {time(inZone(end, OWN_ZONE))} in {OWN_ZONE},
              yours
            </span>
          )}
          <span className="block opacity-80">
            {time(start)}, before {time(end)}
          </span>
        </dd>
      ))}
      {intervals.length > MAX_SHOWN ? (
        <dd>and {intervals.length - MAX_SHOWN} more intervals</dd>
      ) : null}
      {recurring.map(({ parts, startLocal, endLocal }) => (
        <dd key={parts.join()}>
          {parts.join("; ")} from {time(startLocal)}, before {time(endLocal)}
        </dd>
      ))}
      <dt>blanks</dt>
      <dd>{BLANKS_EXPLAINED[blanks]}</dd>
    </dl>
  );
}

function Asked(props: {
  readonly name: string;
  readonly statement: Statement;
  readonly steps: readonly PlanStep[];
}) {
  const { name, statement, steps } = props;
  const [copied, setCopied] = useState(false);
  const values = JSON.stringify(statement.values);
  const copy = () => {
    void navigator.clipboard
      .writeText(`${statement.text}\n-- values: ${values}\n`)
      .then(() => setCopied(true));
  };
  return (
    <div className="mb-6">
      <p className="mb-1 flex items-baseline gap-3">
        <strong>{name}</strong>
        <button type="button" className="btn btn-ghost btn-xs" onClick={copy}>
          <Copy className="size-3" aria-hidden /> {copied ? "Copied" : "Copy"}
        </button>
      </p>
      {/* Long statements are scrolled, and so must be reachable by the keyboard. */}
      <pre
        role="region"
        aria-label={`${name} in SQL`}
        tabIndex={0}
        className="max-h-56 overflow-auto border-l-2 border-primary bg-base-200 p-3 text-sm whitespace-pre-wrap"
      >
        {statement.text}
        {"\n"}
        <span className="opacity-70">values: {values}</span>
      </pre>
      <ul className="mt-2">
        {steps.map(({ words, records, advice }) => (
          <li key={words}>
            The database {words}, about {countText(records)} {records === 1 ? "record" : "records"}.
            {advice === undefined ? null : (
              <strong className="block text-warning">Note: {advice}.</strong>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

function countText(count: number | null): string {
  return count === null ? "not counted" : new Intl.NumberFormat().format(count);
}

function time(text: string | null): string {
  return text === null ? "any time" : shortTime(text);
}

/** A midnight says no more than its day. */
function shortTime(text: string): string {
  return text.replace(/T00:00:00(?!\.)(?=$)/, "").replace("T", " ");
}
