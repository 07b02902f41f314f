import type { DeliveryDescription, DeliveryRun, ListingDetails } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode, type SubmitEvent } from "react";
import { whenText } from "../dates/words.js";
import { Failed, Message } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { service } from "../service/service.js";
import { sentOf, type PageState } from "./state.js";

type When = DeliveryDescription["when"];
type Format = DeliveryDescription["format"];

const TIMES: Readonly<Record<When, string>> = {
  records: "when the records change",
  window: "when the window moves",
  hour: "once an hour",
  day: "once a day",
  week: "once a week",
  month: "once a month",
};
const FORMATS: readonly Format[] = ["csv", "xlsx", "ndjson"];

/** What is found now, delivered from now on: into a folder of the service, or by HTTP. */
export default function Deliveries(props: {
  readonly listing: ListingDetails;
  readonly state: PageState;
}) {
  const { listing, state } = props;
  const { name } = listing;
  const queries = useQueryClient();
  const [forWhat, setForWhat] = useState("");
  const [when, setWhen] = useState<When>("day");
  const [at, setAt] = useState("");
  const [format, setFormat] = useState<Format>("csv");
  const [to, setTo] = useState("");
  const deliveries = useQuery({
    queryKey: ["deliveries", name],
    queryFn: ({ signal }) => service.deliveries(name, signal),
  });
  const hasTime = when === "day" || when === "week" || when === "month";
  const create = useMutation({
    mutationFn: () =>
      service.createDelivery(name, {
        ...{ name: forWhat, format, when, parameters: sentOf(listing, state) },
        ...(hasTime && at !== "" ? { at } : {}),
        to: /^https?:\/\//.test(to) ? { url: to } : { file: to },
      }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["deliveries", name] }),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    create.mutate();
  };
  return (
    <div className="max-w-4xl">
      <form onSubmit={submit} className="grid gap-3 sm:grid-cols-3">
        <Labelled label="Deliver what is found now, for">
          <input
            className="input w-full font-normal"
            value={forWhat}
            maxLength={64}
            required
            autoComplete="off"
            placeholder="the office"
            onChange={(event) => setForWhat(event.target.value)}
          />
        </Labelled>
        <Labelled label="When">
          <select
            className="select w-full font-normal"
            value={when}
            onChange={(event) => setWhen(event.target.value as When)}
          >
            {Object.entries(TIMES).map(([each, words]) => (
              <option key={each} value={each}>
                {words}
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled label="At (midnight by default)">
          <input
            type="time"
            className="input w-full font-normal"
            value={at}
            disabled={!hasTime}
            onChange={(event) => setAt(event.target.value)}
          />
        </Labelled>
        <Labelled label="Format">
          <select
            className="select w-full font-normal"
            value={format}
            onChange={(event) => setFormat(event.target.value as Format)}
          >
            {FORMATS.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </select>
        </Labelled>
        <div className="sm:col-span-2">
          <Labelled label="To a file of the outbox, or a URL">
            <input
              className="input w-full font-normal"
              value={to}
              required
              autoComplete="off"
              placeholder={`${name}-{date}.${format}`}
              onChange={(event) => setTo(event.target.value)}
            />
          </Labelled>
        </div>
        <button
          type="submit"
          className="btn btn-primary justify-self-start"
          disabled={create.isPending}
        >
          Add the delivery
        </button>
      </form>
      <Failed error={create.error} title="The delivery was not added" />
      {create.data?.secret == null ? null : (
        <div className="mt-3">
          <Message kind="info" title="The secret for its signatures, shown this once">
            <code className="break-all">{create.data.secret}</code>
          </Message>
        </div>
      )}
      <Failed error={deliveries.error} title="The deliveries cannot be shown" />
      <ul aria-label="Deliveries" className="mt-4">
        {(deliveries.data ?? []).map((delivery) => (
          <OneDelivery key={delivery.id} delivery={delivery} />
        ))}
      </ul>
    </div>
  );
}

function Labelled({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <label className="flex flex-col font-medium">
      {label}
      {children}
    </label>
  );
}

function OneDelivery({ delivery }: { readonly delivery: DeliveryDescription }) {
  const { id, name, listing, format, when, at, to, last } = delivery;
  const queries = useQueryClient();
  const changed = () => queries.invalidateQueries({ queryKey: ["deliveries", listing] });
  const run = useMutation({
    mutationFn: () => service.runDelivery(listing, id),
    onSuccess: changed,
  });
  const remove = useMutation({
    mutationFn: () => service.deleteDelivery(listing, id),
    onSuccess: changed,
  });
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 border-t border-base-300 py-2">
      <span className="font-semibold">{name}</span>
      <span>
        {TIMES[when]}
        {at === null ? "" : ` at ${at}`}, as {format} to{" "}
        <span className="break-all">{"url" in to ? to.url : to.file}</span>
      </span>
      <span className={last?.error == null ? "opacity-80" : "text-error"}>{stateText(last)}</span>
      <button type="button" className="link" disabled={run.isPending} onClick={() => run.mutate()}>
        Deliver now
      </button>
      <button
        type="button"
        className="link"
        disabled={remove.isPending}
        onClick={() => remove.mutate()}
      >
        End the delivery
      </button>
      <Failed error={run.error ?? remove.error} title="Nothing was changed" />
    </li>
  );
}

function stateText(last: DeliveryRun | null): string {
  if (last === null) return "not delivered yet";
  const { state, at, records, error, nextAt } = last;
  if (state === "done") return `${countedRecords(records ?? 0)}, ${whenText(at)}`;
  if (error === null) return "under way";
  return nextAt === null ? `failed: ${error}` : `${error}; again ${whenText(nextAt)}`;
}
