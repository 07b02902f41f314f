import {
  ISO_CALENDAR,
  calendarSettings,
  type CalendarSettings,
  type ListingCalendar,
} from "@orisma/core/internal";
import { useQueries } from "@tanstack/react-query";
import { service } from "../service/service.js";

/** A listing's calendar with the days off of its lists, as soon as these are here. */
export function useCalendar(declared: ListingCalendar | undefined): CalendarSettings {
  const { holidayLists = [], ...calendar } = declared ?? {};
  const lists = useQueries({
    queries: holidayLists.map((name) => ({
      queryKey: ["holidays", name],
      queryFn: () => service.holidayList(name),
      staleTime: 60_000,
    })),
  });
  if (declared === undefined) return ISO_CALENDAR;
  const listed = lists.flatMap(({ data }) => (data?.holidays ?? []).map(({ day }) => day));
  const settings = calendarSettings({
    ...calendar,
    holidays: [...(calendar.holidays ?? []), ...listed],
  });
  return settings.ok ? settings.value : ISO_CALENDAR;
}
