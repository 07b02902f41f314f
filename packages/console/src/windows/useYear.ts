import { useEffect, useState } from "react";
import type { YearRequest, YearFound } from "./year.worker.js";

/** A year of a window as it is worked out beside the page; undefined for as long as that takes. */
export function useYear({ window, year, zone, calendar }: YearRequest): YearFound | undefined {
  const [found, setFound] = useState<{ readonly of: string; readonly year: YearFound }>();
  // What a calendar comes to; the object itself is another at each drawing.
  const of = JSON.stringify([window, year, zone, calendar, [...calendar.holidays]]);
  const [requested, setRequested] = useState({ of, sent: { window, year, zone, calendar } });
  if (requested.of !== of) setRequested({ of, sent: { window, year, zone, calendar } });
  useEffect(() => {
    const worker = new Worker(new URL("year.worker.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<YearFound | null>) => {
      if (data !== null) setFound({ of: requested.of, year: data });
    };
    worker.postMessage(requested.sent);
    return () => worker.terminate();
  }, [requested]);
  return found?.of === of ? found.year : undefined;
}
