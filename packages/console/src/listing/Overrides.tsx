import type { ListingDetails } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { whenText } from "../dates/words.js";
import { Failed } from "../frame/Message.js";
import { service } from "../service/service.js";

/** What the state of an override says beside it. */
const STATES = { applied: "", expired: ", ended", unfit: ", does not fit the listing any more" };

/** Defaults that are set for a time, from outside the declaration: who set them, and a form to set one. */
export default function Overrides({ listing }: { readonly listing: ListingDetails }) {
  const { name, parameters } = listing;
  const queries = useQueryClient();
  const [parameter, setParameter] = useState(parameters[0]?.name ?? "");
  const [value, setValue] = useState("");
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const overrides = useQuery({
    queryKey: ["overrides", name],
    queryFn: ({ signal }) => service.overrides(name, signal),
  });
  const changed = () => queries.invalidateQueries();
  const set = useMutation({
    mutationFn: () =>
      service.setOverride(name, parameter, {
        value,
        reason,
        ...(until === "" ? {} : { until: new Date(until).toISOString() }),
      }),
    onSuccess: changed,
  });
  const remove = useMutation({
    mutationFn: (each: string) => service.removeOverride(name, each),
    onSuccess: changed,
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    set.mutate();
  };
  return (
    <div className="max-w-3xl">
      <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2">
        <label className="flex flex-col font-medium">
          Parameter
          <select
            className="select w-full font-normal"
            value={parameter}
            onChange={(event) => setParameter(event.target.value)}
          >
            {parameters.map((each) => (
              <option key={each.name} value={each.name}>
                {each.label ?? each.name}
              </option>
            ))}
          </select>
        </label>
        <Field label="Value where nothing is sent" value={value} onChange={setValue} isRequired />
        <Field label="Reason" value={reason} onChange={setReason} isRequired />
        <Field label="Until (optional)" value={until} onChange={setUntil} type="datetime-local" />
        <button
          type="submit"
          className="btn btn-primary justify-self-start"
          disabled={set.isPending}
        >
          Set the default
        </button>
      </form>
      <Failed error={set.error} title="The default was not set" />
      <Failed error={remove.error} title="The default was not removed" />
      <Failed error={overrides.error} title="The defaults cannot be shown" />
      <ul aria-label="Defaults that were set" className="mt-4">
        {(overrides.data ?? []).map((each) => (
          <li key={each.parameter} className="flex flex-wrap items-baseline gap-x-3">
            <span className="font-semibold">
              {each.parameter}:{" "}
              {typeof each.value === "string" ? each.value : each.value.join(", ")}
            </span>
            <span>{each.reason}</span>
            <span className="opacity-80">
              {each.by}, {whenText(each.at)}
              {each.until === null ? "" : `, until ${whenText(each.until)}`}
              {STATES[each.state]}
            </span>
            <button
              type="button"
              className="link"
              disabled={remove.isPending}
              onClick={() => remove.mutate(each.parameter)}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Field(props: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly isRequired?: boolean;
  readonly type?: "text" | "datetime-local";
}) {
  const { label, value, onChange, isRequired = false, type = "text" } = props;
  return (
    <label className="flex flex-col font-medium">
      {label}
      <input
        type={type}
        className="input w-full font-normal"
        value={value}
        required={isRequired}
        autoComplete="off"
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
