/** The days on which the trust's offices are shut, as the iCalendar file that it keeps them in. */
export function daysOffCalendar(): string {
  const events = [
    event("new-year", "20200101", "New Year", "FREQ=YEARLY"),
    event("founders", "20200315", "Founders' day", "FREQ=YEARLY"),
    event("lanterns", "20200504", "Lantern day", "FREQ=YEARLY;BYMONTH=5;BYDAY=1MO"),
    event("midsummer", "20200624", "Midsummer", "FREQ=YEARLY"),
    event("winter", "20201225", "Winter closing", "FREQ=YEARLY", "P3D"),
  ];
  return [
    "BEGIN:VCALENDAR",
    "VERSION:2.0",
    "PRODID:-//Brindle Vale Navigation//Days off//EN",
    ...events.flat(),
    "END:VCALENDAR",
    "",
  ].join("\r\n");
}

function event(id: string, day: string, summary: string, rule: string, length = "P1D") {
  return [
    "BEGIN:VEVENT",
    `UID:${id}@brindle-vale.example`,
    "DTSTAMP:20200101T000000Z",
    `DTSTART;VALUE=DATE:${day}`,
    `DURATION:${length}`,
    `RRULE:${rule}`,
    `SUMMARY:${summary}`,
    "END:VEVENT",
  ];
}
