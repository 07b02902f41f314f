import {
  NAMED_WINDOWS,
  answerWindow,
  epochMs,
  findZone,
  listWindows,
  readWindow,
  renderFault,
  resolveWindow,
  type Interval,
  type RenderedFault,
  type WindowAnswer,
  type WindowContext,
} from "@orisma/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service.js";
import { OWN_ZONE } from "../zones.js";
import { Edges } from "./Edges.js";
import { YearLines } from "./YearLines.js";
import { capitalised } from "../words.js";

const ZONES = Intl.supportedValuesOf("timeZone");

/** The bench for windows: typed or picked, told in words, shown in three zones and on a year. */
export default function WindowsPage() {
  const [search, setSearch] = useSearchParams();
  const [opened] = useState(() => new Date().toISOString().slice(0, 19) + "Z");
  const window = search.get("window") ?? "month-1/now";
  const zone = search.get("zone") ?? OWN_ZONE;
  const asOf = search.get("asOf") ?? opened;
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(search);
    if (value === "") next.delete(name);
    else next.set(name, value);
    setSearch(next, { replace: true });
  };
  useEffect(() => {
    document.title = "Windows – Orisma";
  }, []);
  const context = contextOf(asOf, zone);
  return (
    <Frame>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-x-12 gap-y-8 xl:grid-cols-[minmax(0,1fr)_22rem]">
        <div>
          <h1 className="font-sentence text-2xl">A window, on any day</h1>
          <form
            className="mt-4 grid gap-4 sm:grid-cols-2"
            onSubmit={(event) => event.preventDefault()}
          >
            <label className="flex flex-col gap-1 sm:col-span-2">
              Window
              <input
                className="input w-full font-mono input-lg"
                value={window}
                spellCheck={false}
                autoComplete="off"
                onChange={(event) => set("window", event.target.value)}
              />
            </label>
            <label className="flex flex-col gap-1">
              Zone
              <input
                className="input w-full"
                list="zones"
                value={zone}
                spellCheck={false}
                onChange={(event) => set("zone", event.target.value)}
              />
              <datalist id="zones">
                {ZONES.map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </datalist>
            </label>
            <label className="flex flex-col gap-1">
              Asked at
              <input
                className="input w-full font-mono"
                value={asOf}
                spellCheck={false}
                onChange={(event) => set("asOf", event.target.value)}
              />
            </label>
          </form>
          {context.ok ? (
            <Answer text={window} context={context.value} />
          ) : (
            <Faults faults={context.faults} />
          )}
        </div>
        {context.ok ? (
          <Named context={context.value} onPick={(text) => set("window", text)} />
        ) : null}
      </div>
    </Frame>
  );
}

type ContextRead =
  | { readonly ok: true; readonly value: WindowContext }
  | { readonly ok: false; readonly faults: readonly RenderedFault[] };

function contextOf(asOf: string, zone: string): ContextRead {
  const found = findZone(zone);
  if (!found.ok) return { ok: false, faults: found.faults.map(renderFault) };
  const instant = Date.parse(asOf);
  if (!/(?:Z|[+-]\d{2}:\d{2})$/i.test(asOf) || Number.isNaN(instant)) {
    const message = `“${asOf}” is not an instant such as 2026-11-25T09:00:00Z`;
    return { ok: false, faults: [{ code: "date.form", message }] };
  }
  return { ok: true, value: { asOf: epochMs(instant), zone: found.value } };
}

function Faults({ faults }: { readonly faults: readonly RenderedFault[] }) {
  return (
    <div className="mt-4">
      {faults.map(({ message, accepted }) => (
        <Message key={message} kind="error">
          {message}.
          {accepted === undefined ? null : (
            <p className="text-sm opacity-80">Accepted: {accepted}</p>
          )}
        </Message>
      ))}
    </div>
  );
}

/** What a window comes to: in words, as edges, and on the days of a year. */
function Answer({ text, context }: { readonly text: string; readonly context: WindowContext }) {
  const answer = answerWindow(text, context);
  if (!answer.ok) return <Faults faults={answer.faults.map(renderFault)} />;
  const { sentence, canonical, notices, intervals } = answer.value;
  return (
    <div className="mt-5 flex flex-col gap-4">
      <div aria-live="polite">
        <p className="font-sentence text-xl">{capitalised(sentence)}.</p>
        <p className="text-sm opacity-75">
          <code>{canonical}</code> {changeInWords(answer.value)}.
        </p>
      </div>
      {notices.map(({ code, message }) => (
        <Message key={`${code} ${message}`} kind="notice">
          {capitalised(message)}.
        </Message>
      ))}
      <YearLines intervals={intervalsOf(text, context)} context={context} />
      {intervals.length === 0 ? null : (
        <Edges intervals={intervals} zone={context.zone.id} reader={OWN_ZONE} />
      )}
    </div>
  );
}

function intervalsOf(text: string, context: WindowContext): readonly Interval[] {
  const read = readWindow(text);
  const resolved = read.ok ? resolveWindow(read.value.window, context) : null;
  return resolved?.ok === true ? resolved.value.intervals : [];
}

function changeInWords({ nextChange, asOf }: WindowAnswer): string {
  if (nextChange === null) return "never changes";
  return nextChange === asOf ? "moves all the time" : `next changes at ${nextChange}`;
}

/** Windows by name, each with its dates on the day of asking. */
function Named(props: {
  readonly context: WindowContext;
  readonly onPick: (text: string) => void;
}) {
  // Their dates are worked out here, so that they follow the clock of the bench at each key.
  const named = useQuery({
    queryKey: ["named windows"],
    queryFn: () => service.namedWindows(),
    staleTime: 60_000,
  });
  const listed = listWindows(named.data ?? NAMED_WINDOWS, props.context);
  return (
    <section aria-label="Windows by name">
      <h2 className="font-sentence text-xl">By name</h2>
      <ul className="mt-2">
        {(listed.ok ? listed.value : []).map(({ name, label, window, sentence }) => (
          <li key={name} className="border-t border-base-300 py-1">
            <button type="button" className="link link-hover" onClick={() => props.onPick(window)}>
              {label}
            </button>
            <p className="text-sm opacity-70">{sentence.replace(/, [^,]*$/, "")}</p>
          </li>
        ))}
      </ul>
    </section>
  );
}
