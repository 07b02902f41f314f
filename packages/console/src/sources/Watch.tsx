import type { SourceDescription, WatchLook, WatchState } from "@orisma/client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { whenText } from "../dates/words.js";
import { Folded } from "../frame/Folded.js";
import { Failed } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";

/** How often a file can be checked, in seconds. */
const TIMES: readonly (readonly [seconds: number, words: string])[] = [
  [60, "every minute"],
  [600, "every 10 minutes"],
  [3_600, "every hour"],
  [86_400, "every day"],
  [604_800, "every week"],
];
/** Milliseconds between two questions what came of it. */
const LOOK_EVERY_MS = 10_000;
/** Outcomes that are shown at first. */
const SHOWN = 5;

/** The file of a source that is imported again whenever it changes, and what came of checking it. */
export function Watch({ source: { name } }: { readonly source: SourceDescription }) {
  const state = useQuery({
    queryKey: ["watch", name],
    queryFn: () => service.watch(name),
    refetchInterval: ({ state: { data } }) => (data?.watch == null ? false : LOOK_EVERY_MS),
  });
  const mayWatch = useMay("owner");
  if (state.data === undefined) return null;
  const { watch, looks } = state.data;
  if (watch === null && looks.length === 0) {
    return mayWatch ? (
      <Folded place="#watch" open="Fetch it from an address whenever it changes" close="Cancel">
        <NewWatch source={name} />
      </Folded>
    ) : null;
  }
  return (
    <section className="mt-6 max-w-3xl" aria-labelledby="watch">
      <h2 id="watch" className="font-sentence text-xl">
        Imported by itself
      </h2>
      <Watched source={name} state={state.data} />
      <Looks state={state.data} />
      {watch === null && mayWatch ? <NewWatch source={name} /> : null}
    </section>
  );
}

function Watched({ source, state }: { readonly source: string; readonly state: WatchState }) {
  const { watch, nextAt } = state;
  const queries = useQueryClient();
  const onSuccess = () => queries.invalidateQueries();
  const check = useMutation({ mutationFn: () => service.lookNow(source), onSuccess });
  const stop = useMutation({ mutationFn: () => service.watchFile(source, null), onSuccess });
  const isOwner = useMay("owner");
  if (watch === null) return <p>Nothing is watched now.</p>;
  const often = TIMES.find(([seconds]) => seconds === watch.every)?.[1];
  return (
    <>
      <p>
        <span className="font-semibold break-all">{watch.url ?? watch.file}</span>
        {watch.url === undefined ? " of the inbox" : ""}, checked{" "}
        {often ?? `every ${watch.every} seconds`}
        {nextAt === null ? "" : `, next ${whenText(nextAt)}`}
      </p>
      {isOwner ? (
        <p className="mt-1 flex flex-wrap items-baseline gap-3">
          <button
            type="button"
            className="btn btn-sm"
            disabled={check.isPending}
            onClick={() => check.mutate()}
          >
            {check.isPending ? "Checking" : "Check now"}
          </button>
          <button
            type="button"
            className="link"
            disabled={stop.isPending}
            onClick={() => stop.mutate()}
          >
            Stop
          </button>
        </p>
      ) : null}
      <Failed error={check.error} title="The file was not checked" />
      <Failed error={stop.error} title="It is still watched" />
    </>
  );
}

function Looks({ state: { watch, looks } }: { readonly state: WatchState }) {
  const place = watch?.url ?? watch?.file;
  const [showsAll, setShowsAll] = useState(false);
  const shown = showsAll ? looks : looks.slice(0, SHOWN);
  return (
    <>
      <ul className="mt-2">
        {shown.map((look) => (
          <li key={look.firstAt}>
            <span className="tabular-nums opacity-80">{whenText(look.lastAt)}</span>{" "}
            <span className={look.outcome === "failed" ? "text-error" : ""}>{inWords(look)}</span>
            {look.place === place ? null : (
              <span className="break-all opacity-80">, {look.place}</span>
            )}
          </li>
        ))}
      </ul>
      {shown.length < looks.length ? (
        <button type="button" className="link" onClick={() => setShowsAll(true)}>
          Show all {looks.length}
        </button>
      ) : null}
    </>
  );
}

function inWords({ outcome, records, looks, problem }: WatchLook): string {
  const times = looks === 1 ? "" : `, ${looks} times in a row`;
  switch (outcome) {
    case "imported":
      return `imported, ${countedRecords(records ?? 0)}`;
    case "unchanged":
      return `the same as before${times}`;
    case "failed":
      return `not imported${times}: ${problem ?? ""}`;
  }
}

function NewWatch({ source }: { readonly source: string }) {
  const [place, setPlace] = useState("");
  const [every, setEvery] = useState(3_600);
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: async () => {
      const isAddress = /^https?:/i.test(place);
      await service.watchFile(source, { ...(isAddress ? { url: place } : { file: place }), every });
      await service.lookNow(source);
    },
    onSettled: () => queries.invalidateQueries(),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    begin.mutate();
  };
  return (
    <form onSubmit={submit} className="mt-2 flex max-w-3xl flex-wrap items-end gap-3">
      <label className="grow">
        <span className="block text-sm font-semibold">
          An address that begins with https, or a file of the inbox
        </span>
        <input
          className="input w-full"
          value={place}
          required
          maxLength={2_000}
          autoComplete="off"
          placeholder="https://files.brindle.example/works.csv"
          onChange={(event) => setPlace(event.target.value.trim())}
        />
      </label>
      <label>
        <span className="block text-sm font-semibold">Checked</span>
        <select
          className="select"
          value={every}
          onChange={(event) => setEvery(Number(event.target.value))}
        >
          {TIMES.map(([seconds, words]) => (
            <option key={seconds} value={seconds}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <button type="submit" className="btn btn-primary" disabled={begin.isPending}>
        {begin.isPending ? "Fetching" : "Import it whenever it changes"}
      </button>
      <div className="w-full">
        <Failed error={begin.error} title="Nothing is watched" />
      </div>
    </form>
  );
}
