import {
  UTC,
  answerWindow,
  civilDay,
  dayOf,
  epochMs,
  isoDay,
  isoInstant,
  momentOf,
  readGiven,
  readWindow,
  renderFault,
  resolvePart,
  resolveWindow,
  wallAt,
  type CalendarSettings,
  type EpochMs,
  type Interval,
  type RenderedFault,
  type WindowAnswer,
  type WindowContext,
} from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { lazy, useEffect, useState } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { useCalendar } from "../dates/calendars.js";
import { useCommands } from "../frame/commands.js";
import { Folded } from "../frame/Folded.js";
import { Frame } from "../frame/Frame.js";
import { Message } from "../frame/Message.js";
import { service } from "../service/service.js";
import { OWN_ZONE } from "../dates/zones.js";
import { Before } from "./Before.js";
import { Edges } from "./Edges.js";
import { Ladders } from "./Ladders.js";
import { Named } from "./Named.js";
import { YearLines } from "./YearLines.js";
import { capitalised } from "../dates/words.js";

const Notation = lazy(() => import("./Notation.js"));
const ThroughYear = lazy(() => import("./ThroughYear.js"));

const ZONES = Intl.supportedValuesOf("timeZone");

/** The bench for windows: typed or picked, told in words, on any day, in the zone and calendar of a listing. */
export default function WindowsPage() {
  const [search] = useSearchParams();
  const { hash } = useLocation();
  const navigate = useNavigate();
  const [opened] = useState(() => epochMs(Math.floor(Date.now() / 1_000) * 1_000));
  const listings = useQuery({
    queryKey: ["listings"],
    queryFn: ({ signal }) => service.listings(signal),
  });
  const like = listings.data?.find(({ name }) => name === search.get("like"));
  const calendar = useCalendar(like?.calendar);
  const window = search.get("window") ?? "month-1/now";
  const zone = search.get("zone") ?? like?.zone ?? OWN_ZONE;
  const asOf = search.get("asOf") ?? isoInstant(opened);
  const set = (sent: Readonly<Record<string, string>>) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(sent)) {
      if (value === "") next.delete(name);
      else next.set(name, value);
    }
    void navigate({ search: next.toString(), hash }, { replace: true, preventScrollReset: true });
  };
  const pick = (text: string) => set({ window: text });
  useEffect(() => {
    document.title = "Windows – Orisma";
  }, []);
  const context = contextOf(asOf, zone, calendar, opened);
  const move = (step: Step) => {
    if (context.ok) set({ asOf: moved(context.value, step) });
  };
  useCommands([
    ...STEPS.map((step) => ({ name: `Ask ${step.words}`, key: step.key, run: () => move(step) })),
    { name: "Ask now", run: () => set({ asOf: "" }) },
  ]);
  const year = context.ok ? yearAsked(context.value) : 0;
  return (
    <Frame>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-x-12 gap-y-8 xl:grid-cols-[minmax(0,1fr)_22rem]">
        <div>
          <h1 className="font-sentence text-2xl">A window, on any day</h1>
          <form
            className="mt-4 grid gap-4 sm:grid-cols-3"
            onSubmit={(event) => event.preventDefault()}
          >
            <label className="flex flex-col gap-1 sm:col-span-3">
              Window
              <input
                className="input w-full font-mono input-lg"
                value={window}
                spellCheck={false}
                autoComplete="off"
                onChange={(event) => pick(event.target.value)}
              />
            </label>
            <label className="flex flex-col gap-1">
              Calendar
              <select
                className="select w-full"
                value={like?.name ?? ""}
                onChange={(event) => set({ like: event.target.value, zone: "" })}
              >
                <option value="">of ISO 8601</option>
                {(listings.data ?? []).map(({ name, title }) => (
                  <option key={name} value={name}>
                    of {title}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex flex-col gap-1">
              Zone
              <input
                className="input w-full"
                list="zones"
                value={zone}
                spellCheck={false}
                onChange={(event) => set({ zone: event.target.value })}
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
                onChange={(event) => set({ asOf: event.target.value })}
              />
            </label>
          </form>
          <p className="mt-3 flex flex-wrap gap-2">
            {STEPS.map((step) => (
              <button
                key={step.words}
                type="button"
                className="btn btn-sm"
                disabled={!context.ok}
                onClick={() => move(step)}
              >
                {step.words}
              </button>
            ))}
            <button
              type="button"
              className="btn btn-sm"
              disabled={!search.has("asOf")}
              onClick={() => set({ asOf: "" })}
            >
              now
            </button>
          </p>
          {context.ok ? (
            <Answer text={window} context={context.value} />
          ) : (
            <Faults faults={context.faults} />
          )}
          {context.ok && readWindow(window).ok ? (
            <Folded
              place="#year"
              open="The same window on every day of a year"
              close="Put the year away"
            >
              <ThroughYear
                window={window}
                year={Number(search.get("year") ?? year)}
                zone={context.value.zone.id}
                calendar={calendar}
                asked={isoDay(dayOf(wallAt(context.value.zone, context.value.asOf)))}
                onYear={(next) => set({ year: next === year ? "" : String(next) })}
                onDay={(day) => set({ asOf: `${day}T12:00`, year: "" })}
              />
            </Folded>
          ) : null}
          {context.ok ? (
            <Folded
              place="#notation"
              open="How windows are written and compared"
              close="Put the notation away"
            >
              <Notation context={context.value} onPick={pick} />
            </Folded>
          ) : null}
        </div>
        {context.ok ? (
          <div>
            <Named context={context.value} window={window} onPick={pick} />
            <Ladders asOf={isoInstant(context.value.asOf)} onPick={pick} />
          </div>
        ) : null}
      </div>
    </Frame>
  );
}

/** How the clock of the bench can be moved; by single keys too. */
const STEPS = [
  { words: "a year before", key: "H", by: "-P1Y" },
  { words: "a month before", key: "h", by: "-P1M" },
  { words: "a day before", key: "k", by: "-P1D" },
  { words: "a day after", key: "j", by: "+P1D" },
  { words: "a month after", key: "l", by: "+P1M" },
  { words: "a year after", key: "L", by: "+P1Y" },
] as const;
type Step = (typeof STEPS)[number];

/** The instant of asking, moved; itself where it cannot be. */
function moved(context: WindowContext, { by }: Step): string {
  const given = readGiven(`now${by}`, { parameter: "asOf", type: "moment" });
  const part = given.ok && given.value.kind === "part" ? given.value.part : null;
  const found = part === null ? null : resolvePart(part, context);
  const instant = found?.ok === true ? found.value.span?.start.instant : undefined;
  return isoInstant(instant ?? context.asOf);
}

/** The year in which it is asked. */
function yearAsked({ asOf, zone }: WindowContext): number {
  return civilDay(dayOf(wallAt(zone, asOf))).year;
}

type ContextRead =
  | { readonly ok: true; readonly value: WindowContext }
  | { readonly ok: false; readonly faults: readonly RenderedFault[] };

function contextOf(
  asOf: string,
  zone: string,
  calendar: CalendarSettings,
  now: EpochMs,
): ContextRead {
  const asked = new Map([
    ["asOf", [asOf]],
    ["zone", [zone]],
  ]);
  const found = momentOf(asked, ["asOf", "zone"], { asOf: now, zone: UTC });
  return found.ok
    ? { ok: true, value: { ...found.value, calendar } }
    : { ok: false, faults: found.faults.map(renderFault) };
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
  const covered = intervalsOf(text, context);
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
      <YearLines intervals={covered} context={context} />
      {intervals.length === 0 ? null : (
        <Edges intervals={intervals} zone={context.zone.id} reader={OWN_ZONE} />
      )}
      <Before intervals={covered} context={context} />
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
