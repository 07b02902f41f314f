import { dayOf, epochMs, isoDay, isoInstant, readWindow, wallAt } from "@orisma/core/internal";
import { useQuery } from "@tanstack/react-query";
import { lazy, useEffect, useState } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { useCalendar } from "../dates/calendars.js";
import { useCommands } from "../frame/commands.js";
import { Folded } from "../frame/Folded.js";
import { Frame } from "../frame/Frame.js";
import { service } from "../service/service.js";
import { OWN_ZONE } from "../dates/zones.js";
import { Answer, Faults } from "./Answer.js";
import { STEPS, contextOf, moved, requestedYear, type Step } from "./clock.js";
import { Ladders } from "./Ladders.js";
import { Named } from "./Named.js";
import { WindowForm } from "./WindowForm.js";
import { codeOf } from "../service/connection.js";

const Notation = lazy(() => codeOf(() => import("./Notation.js")));
const ThroughYear = lazy(() => codeOf(() => import("./ThroughYear.js")));

/** The bench for windows: typed or picked, shown in words, on any day, in the zone and calendar of a listing. */
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
    { name: "Now", run: () => set({ asOf: "" }) },
  ]);
  const year = context.ok ? requestedYear(context.value) : 0;
  return (
    <Frame>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-x-12 gap-y-8 xl:grid-cols-[minmax(0,1fr)_22rem]">
        <div>
          <h1 className="font-sentence text-2xl">Try a window</h1>
          <WindowForm
            window={window}
            like={like?.name ?? ""}
            zone={zone}
            asOf={asOf}
            listings={listings.data ?? []}
            canMove={context.ok}
            isMoved={search.has("asOf")}
            onSet={set}
            onMove={move}
          />
          {context.ok ? (
            <Answer text={window} context={context.value} />
          ) : (
            <Faults faults={context.faults} />
          )}
          {context.ok && readWindow(window).ok ? (
            <Folded
              place="#year"
              open="The same window on every day of a year"
              close="Close the year"
            >
              <ThroughYear
                window={window}
                year={Number(search.get("year") ?? year)}
                zone={context.value.zone.id}
                calendar={calendar}
                asOfDay={isoDay(dayOf(wallAt(context.value.zone, context.value.asOf)))}
                onYear={(next) => set({ year: next === year ? "" : String(next) })}
                onDay={(day) => set({ asOf: `${day}T12:00`, year: "" })}
              />
            </Folded>
          ) : null}
          {context.ok ? (
            <Folded
              place="#notation"
              open="How windows are written and compared"
              close="Close the notation"
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
