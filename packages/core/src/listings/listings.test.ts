import { describe, expect, test } from "@jest/globals";
import { UTC, epochMs, findZone } from "../calendar/index.js";
import { renderFault, renderNotice } from "../faults/index.js";
import type { Catalogue } from "../filters/index.js";
import { ISO_CALENDAR, intervalText } from "../windows/index.js";
import { checkListing, listingForms } from "./check.js";
import { clausesOf } from "./clauses.js";
import type { DateParameter, ListingDeclaration } from "./declaration.js";
import { differenceInWords } from "./difference.js";
import { untilChange } from "./max-age.js";
import { planRequest } from "./request.js";
import { appliedDates, sentenceOf, windowViews } from "./words.js";

const COLUMNS: Catalogue = new Map([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["passed", { name: "passed", type: "date", kind: "instant" }],
  ["task", { name: "task", type: "text" }],
  ["cost", { name: "cost", type: "integer" }],
]);

function parameter(more: Partial<DateParameter> & { name: string }): DateParameter {
  return { type: "date", column: "raised", comparison: "from", blanks: "exclude", ...more };
}

const LISTING: ListingDeclaration = {
  name: "works-raised",
  title: "Works raised",
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  parameters: [
    parameter({ name: "from", pair: "raised" }),
    parameter({ name: "to", comparison: "to", pair: "raised" }),
    parameter({ name: "passedFrom", type: "datetime", column: "passed" }),
    parameter({ name: "raisedOn", comparison: "on" }),
  ],
  columns: [],
  order: { allowed: ["raised", "cost"], default: "-raised" },
  page: { size: 50, max: 500 },
  reversed: "swap",
};

/** A Saturday. */
const NOW = epochMs(Date.UTC(2025, 1, 15, 13, 30));
const LONDON = findZone("Europe/London");

function plan(query: string, listing: ListingDeclaration = LISTING) {
  const sent = new Map<string, string[]>();
  for (const [name, value] of new URLSearchParams(query)) {
    sent.set(name, [...(sent.get(name) ?? []), value]);
  }
  const forms = listingForms(listing);
  return planRequest(listing, sent, {
    asOf: NOW,
    zone: LONDON.ok ? LONDON.value : UTC,
    calendar: ISO_CALENDAR,
    columns: COLUMNS,
    caller: "upper-vale",
    allowed: [],
    forms: forms.ok ? forms.value : new Map(),
  });
}

function planned(query: string, listing = LISTING) {
  const result = plan(query, listing);
  if (!result.ok) throw new Error(result.faults.map(({ code }) => code).join());
  return result.value;
}

function faults(query: string, listing = LISTING) {
  const result = plan(query, listing);
  return result.ok ? [] : result.faults.map(renderFault);
}

function bounds(query: string, listing = LISTING) {
  return planned(query, listing).requested.dates.flatMap(({ filter: { intervals } }) =>
    intervals.map((interval) => {
      const { startLocal, endLocal } = intervalText(interval);
      return [startLocal?.slice(0, 10) ?? null, endLocal?.slice(0, 10) ?? null];
    }),
  );
}

describe("planRequest", () => {
  test.each([
    ["from=2025-02-01&to=2025-02-28", ["2025-02-01", "2025-03-01"]],
    ["to=2025-02-28&from=2025-02-01", ["2025-02-01", "2025-03-01"]],
    ["from=2025-02&to=2025-02", ["2025-02-01", "2025-03-01"]],
    ["from=2025-02-28&to=2025-02-28", ["2025-02-28", "2025-03-01"]],
    ["from=2025-02-01", ["2025-02-01", null]],
    ["to=2025-02-28", [null, "2025-03-01"]],
    ["from=..&to=2025-02-28", [null, "2025-03-01"]],
    ["from=2025-02-28&to=2025-02-01", ["2025-02-01", "2025-03-01"]],
    ["from=2025-03-06&to=2025-03-05", ["2025-03-05", "2025-03-07"]],
    ["from=2025-02-10&to=2025-02", ["2025-02-10", "2025-03-01"]],
  ])("%s is one condition", (query, expected) => {
    expect(bounds(query)).toEqual([expected]);
  });

  test.each([
    "",
    "from=",
    "from=&to=",
    "from=%20",
    "from=null&to=undefined",
    "from=0001-01-01",
    "from=..&to=..",
  ])("“%s” is no condition", (query) => {
    expect(planned(query).requested.dates).toEqual([]);
  });

  test("a moment at exactly midnight as an end is reported: pickers send it for the day", () => {
    const listing = {
      ...LISTING,
      parameters: [
        parameter({ name: "to", type: "datetime", column: "passed", comparison: "to" }),
        parameter({ name: "from", type: "datetime", column: "passed" }),
      ],
    };
    const codes = (query: string) => planned(query, listing).notices.map(({ code }) => code);
    expect(codes("to=2025-02-28T00:00")).toEqual(["edge.midnight"]);
    expect(planned("to=2025-02-28T00:00", listing).notices.map(renderNotice)[0]?.message).toBe(
      "“to” ends at the start of 2025-02-28; to include the day, send 2025-02-28",
    );
    for (const query of ["to=2025-02-28", "to=2025-02-28T00:01", "from=2025-02-28T00:00"]) {
      expect(codes(query)).toEqual([]);
    }
  });

  test("a T or a plus that became a space is read as it was meant, and dashes as hyphens", () => {
    const windows = (query: string) => appliedDates(planned(query)).map(({ value }) => value);
    expect(windows("passedFrom=2025-02-28 14:30")).toEqual(["2025-02-28T14:30"]);
    expect(windows("passedFrom=2025-02-28T14:30+01:00")).toEqual(["2025-02-28T14:30+01:00"]);
    expect(windows("from=2025\u201302\u201328")).toEqual(["2025-02-28"]);
    expect(planned("from=2025\u201302\u201328").notices.map(({ code }) => code)).toEqual([
      "value.dashes",
    ]);
    expect(faults("from=2025-02 28").map(({ code }) => code)).toEqual(["window.form"]);
  });

  test("reversed dates are swapped with a notice, and the windows show what took effect", () => {
    const result = planned("from=2025-02-28&to=2025-02-01");
    expect(result.notices.map(renderNotice)).toEqual([
      {
        code: "window.swapped",
        message: "the dates were in reverse order and were swapped: from 2025-02-01 to 2025-02-28",
      },
    ]);
    const [from, to] = appliedDates(result);
    expect([from?.value, to?.value]).toEqual(["2025-02-01", "2025-02-28"]);
  });

  test("reversed dates are refused where the listing says so, naming both", () => {
    const [fault, ...others] = faults("from=2025-02-28&to=2025-02-01", {
      ...LISTING,
      reversed: "reject",
    });
    expect(others).toEqual([]);
    expect(fault).toMatchObject({
      parameter: "to",
      code: "window.reversed",
      message: "the end 2025-02-01 is before the start 2025-02-28",
    });
  });

  test("every fault is reported at once, in the order of sending", () => {
    const found = faults(
      "order=-rased&form=2025-01-01&to=2025-13-01&from=31/02/2025&from.blank=maybe&zone=UTC",
    );
    expect(found.map(({ parameter: name, code, nearest }) => [name, code, nearest])).toEqual([
      ["order", "order.unknown", ["-raised"]],
      ["form", "parameter.unknown", ["from"]],
      ["to", "date.impossible", undefined],
      ["from", "date.impossible", undefined],
      ["from.blank", "parameter.value", undefined],
      ["zone", "parameter.notAllowed", undefined],
    ]);
  });

  test("a parameter sent twice is one fault with both values", () => {
    expect(faults("from=2025-01-01&from=2025-02-01")).toEqual([
      {
        parameter: "from",
        value: "2025-01-01, 2025-02-01",
        code: "parameter.repeated",
        message: "“from” was sent 2 times and takes one value",
        accepted: "one value",
      },
    ]);
  });

  test("blanks are omitted unless the request keeps them, or keeps only them", () => {
    const policies = (query: string) =>
      planned(query).requested.dates.map(({ filter }) => filter.blanks);
    expect(policies("from=2025")).toEqual(["exclude"]);
    expect(policies("from=2025&to.blank=include")).toEqual(["include"]);
    expect(policies("from.blank=only")).toEqual(["only"]);
    expect(policies("from.blank=include")).toEqual([]);
    expect(faults("from=2025&from.blank=include&to.blank=only")).toMatchObject([
      { parameter: "to.blank", code: "parameter.conflict" },
    ]);
  });

  test("the order is one of those allowed, and has a default", () => {
    expect(planned("").order).toEqual({ column: "raised", descending: true });
    expect(planned("order=cost").order).toEqual({ column: "cost", descending: false });
    expect(faults("order=task")).toMatchObject([
      { code: "order.unknown", accepted: "raised, -raised, cost, -cost" },
    ]);
  });

  test("an order has several columns, and the listing's ties behind those that were requested", () => {
    const then = [{ column: "cost", descending: false }];
    expect(planned("order=-raised&order=cost").order).toEqual({
      column: "raised",
      descending: true,
      then,
    });
    const ties = { ...LISTING, order: { ...LISTING.order, tieBreakers: ["cost", "-task"] } };
    expect(planned("order=cost", ties).order).toMatchObject({
      column: "cost",
      then: [{ column: "task", descending: true }],
    });
    expect(faults("order=cost&order=-cost")).toMatchObject([
      { parameter: "order", code: "order.repeated", value: "-cost" },
    ]);
    expect(faults("order=cost&order=rased")).toMatchObject([{ code: "order.unknown" }]);
    expect(faults(Array.from({ length: 9 }, () => "order=cost").join("&"))).toMatchObject([
      { code: "order.tooMany" },
    ]);
  });

  test("white space around a value is omitted, with a notice", () => {
    expect(planned("from=%202025-02%20").notices.map(({ code }) => code)).toEqual([
      "value.trimmed",
    ]);
    expect(planned("from=2025-02").notices).toEqual([]);
  });

  test("an edge that a clock change touches is reported for instants, and is no matter for days", () => {
    expect(planned("passedFrom=2026-03-29T01:30").notices.map(({ code }) => code)).toContain(
      "edge.skipped",
    );
    expect(planned("from=2026-03-29").notices).toEqual([]);
  });
});

describe("dates that move", () => {
  const listing: ListingDeclaration = {
    ...LISTING,
    parameters: [
      parameter({ name: "from", pair: "raised" }),
      parameter({ name: "to", comparison: "to", pair: "raised" }),
      parameter({ name: "raised", type: "window", comparison: "on" }),
      parameter({ name: "notRaised", type: "window", comparison: "notOn" }),
      parameter({ name: "passed", type: "window", column: "passed", comparison: "on" }),
      parameter({ name: "passedFrom", type: "datetime", column: "passed" }),
      parameter({ name: "raisedAfter", comparison: "after" }),
      parameter({ name: "raisedBefore", comparison: "before" }),
    ],
  };
  const codes = (query: string) => planned(query, listing).notices.map(({ code }) => code);

  test.each([
    ["from=month-1", ["2025-01-01", null]],
    ["to=yesterday", [null, "2025-02-15"]],
    ["from=month-1&to=now", ["2025-01-01", "2025-02-16"]],
    ["raised=month-1/now", ["2025-01-01", "2025-02-16"]],
    ["raised=P2W/today", ["2025-02-02", "2025-02-16"]],
    ["raised=2024-02", ["2024-02-01", "2024-03-01"]],
    ["raisedAfter=now", ["2025-02-16", null]],
    ["raisedBefore=now", [null, "2025-02-15"]],
    ["passedFrom=today", ["2025-02-15", null]],
  ])("%s is one interval", (query, expected) => {
    expect(bounds(query, listing)).toEqual([expected]);
  });

  test("a union is several intervals, and recurring parts without end are kept as parts", () => {
    expect(bounds("raised=2023-01|2024-01", listing)).toEqual([
      ["2023-01-01", "2023-02-01"],
      ["2024-01-01", "2024-02-01"],
    ]);
    const recurring = planned("raised=../..;BYMONTH=1", listing);
    const [found] = recurring.requested.dates;
    expect(found?.filter).toMatchObject({
      intervals: [],
      recurring: [{ rules: [{ name: "BYMONTH" }], zone: "Europe/London" }],
    });
    expect(windowViews(recurring, "Europe/London")[0]).toMatchObject({
      column: "raised",
      canonical: "../..;BYMONTH=1",
      recurring: [{ parts: ["BYMONTH=1"] }],
    });
  });

  test("a pair in reverse order that moves has not begun, and is never swapped", () => {
    const result = planned("from=month.20&to=today", listing);
    expect(result.notices.map(renderNotice)).toEqual([
      {
        code: "window.notBegun",
        message: "this window has not started: it starts at 2025-02-20T00:00:00",
      },
    ]);
    expect(result.requested.dates.map(({ filter }) => filter.intervals)).toEqual([[]]);
    expect(codes("from=2025-03-01&to=2025-02-01")).toEqual(["window.swapped"]);
  });

  test("a window that can hold nothing is reported with the reason", () => {
    expect(codes("raised=month.31")).toEqual(["window.lacksDay"]);
    expect(codes("raised=workday")).toEqual(["window.dayOff"]);
    expect(codes("from=month.31")).toEqual(["window.lacksDay"]);
    for (const query of ["raised=month.31", "from=month.31", "from=2025&to=month.31"]) {
      expect(bounds(query, listing)).toEqual([]);
      expect(planned(query, listing).requested.dates).toHaveLength(1);
    }
  });

  test("a column of days takes no time of day in a window, one of moments does", () => {
    for (const window of ["now-PT2H/now", "hour", "P1D/2025-02-01T10", "year;BYHOUR=9"]) {
      expect(faults(`raised=${encodeURIComponent(window)}`, listing)).toMatchObject([
        { parameter: "raised", code: "column.finerThanDay" },
      ]);
      expect(faults(`passed=${encodeURIComponent(window)}`, listing)).toEqual([]);
    }
  });

  test("what is shown moves with the clock: never, in steps, or all the time", () => {
    const moves = (query: string) => planned(query, listing).timeDependence;
    expect(moves("raised=2024&from=2024")).toBe("never");
    expect(moves("raised=month-1/2024")).toBe("steps");
    expect(moves("raised=month/now")).toBe("steps");
    expect(moves("passed=month/now")).toBe("always");
  });

  test("the sentence says dates and how they were written", () => {
    const sentence = (query: string) => sentenceOf(listing, planned(query, listing));
    expect(sentence("from=month-1&to=now")).toContain(
      "raised from 1 January 2025, until now (month-1/now)",
    );
    expect(sentence("raised=month-1/now")).toContain(
      "raised from 1 January 2025, until now (month-1/now)",
    );
    expect(sentence("raised=../..;BYMONTH=1")).toContain("raised in January of each year");
    expect(sentence("notRaised=today")).toContain("raised not on 15 February 2025 (today)");
    expect(sentence("from=month.31")).toContain("raised from month.31, which is nothing");
  });

  test("each comparison with one has its canonical window, which moves too", () => {
    const canonical = (query: string) =>
      windowViews(planned(query, listing), "Europe/London").map((each) => each.canonical);
    expect(canonical("from=month-1")).toEqual(["month-1/.."]);
    expect(canonical("raisedAfter=month-1")).toEqual(["month/.."]);
    expect(canonical("raisedBefore=today")).toEqual(["../yesterday"]);
    expect(canonical("raisedAfter=month.15")).toEqual(["month.15+P1D/.."]);
    expect(canonical("raisedBefore=now")).toEqual(["../now"]);
  });
});

describe("forms, fields and limits", () => {
  const listing: ListingDeclaration = {
    ...LISTING,
    parameters: [
      parameter({
        name: "from",
        pair: "raised",
        accepts: { encoding: "text", patterns: ["dd/MM/yyyy"] },
        limits: { earliest: "2020", longest: "P1Y" },
      }),
      parameter({ name: "to", comparison: "to", pair: "raised", limits: { latest: "today" } }),
      parameter({
        name: "raisedIn",
        comparison: "on",
        fields: { year: "year", month: "month", day: "day" },
      }),
      parameter({ name: "window", type: "window", comparison: "on", limits: { longest: "P3M" } }),
    ],
  };

  test("a declared form is read, and shown as what it came to", () => {
    const [from] = appliedDates(planned("from=03/04/2024&to=2024-05", listing));
    expect(from).toMatchObject({ value: "2024-04-03", canonical: "2024-04-03/.." });
    expect(faults("from=2024.04.03&to=2024-05", listing)).toMatchObject([
      { code: "date.pattern", accepted: "dd/MM/yyyy, ISO 8601" },
    ]);
  });

  test.each([
    ["year=2024&month=2", ["2024-02-01", "2024-03-01"]],
    ["year=2024&month=02&day=9", ["2024-02-09", "2024-02-10"]],
    ["year=2024&day=", ["2024-01-01", "2025-01-01"]],
    ["raisedIn=2024-02", ["2024-02-01", "2024-03-01"]],
  ])("%s is one date", (query, expected) => {
    expect(bounds(query, listing)).toEqual([expected]);
  });

  test("invalid fields are reported by the parameter that carried them", () => {
    const answer = (query: string) =>
      faults(query, listing).map(({ parameter: name, code }) => [name, code]);
    expect(answer("year=2024&month=13")).toEqual([["month", "field.value"]]);
    expect(answer("month=2")).toEqual([["month", "field.missing"]]);
    expect(answer("year=2024&month=2&day=30")).toEqual([["raisedIn", "date.impossible"]]);
    expect(answer("year=2024&raisedIn=2024")).toEqual([["year", "parameter.conflict"]]);
    expect(answer("yaer=2024")).toEqual([["yaer", "parameter.unknown"]]);
  });

  test("what lies beyond the limits is refused with what is accepted; their very edges are not", () => {
    const answer = (query: string) => faults(query, listing).map(({ code }) => code);
    expect(answer("from=2020-01-01&to=2020-12-31")).toEqual([]);
    expect(answer("from=2019-12-31&to=2020-06")).toEqual(["window.outOfLimits"]);
    expect(answer("from=2024-06&to=today")).toEqual([]);
    expect(answer("from=2024-06&to=tomorrow")).toEqual(["window.outOfLimits"]);
    expect(answer("from=2023-01-01&to=2024-01-01")).toEqual(["window.longerThan"]);
    expect(answer("from=2023-01-01")).toEqual(["window.openEnd"]);
    expect(answer("window=month-2/month")).toEqual([]);
    expect(answer("window=month-3/month")).toEqual(["window.longerThan"]);
    expect(answer("window=../..;BYMONTH=1")).toEqual(["window.openEnd"]);
    expect(faults("from=2019&to=2019", listing)).toMatchObject([
      {
        parameter: "from",
        message: "“1 January 2019” is outside the limits of this parameter",
        accepted: "dates from 2020 on",
      },
    ]);
  });
});

describe("sentenceOf", () => {
  const sentence = (query: string) => sentenceOf(LISTING, planned(query));

  test("says column, both ends, zone, blanks and order", () => {
    expect(sentence("from=2025-02-01&to=2025-02")).toBe(
      "Works raised: raised 1–28 February 2025, blank dates excluded; latest first.",
    );
    expect(sentence("")).toBe("Works raised: all records; latest first.");
    expect(sentence("from.blank=only&order=cost")).toBe(
      "Works raised: raised blank; by cost, ascending.",
    );
    expect(sentence("raisedOn=2025-02")).toContain("raised in February 2025");
  });
});

describe("clausesOf", () => {
  const listing: ListingDeclaration = {
    ...LISTING,
    parameters: [
      ...LISTING.parameters,
      { name: "task", type: "several", column: "task", comparison: "noneOf", blanks: "exclude" },
      { name: "least", type: "integer", column: "cost", comparison: "atLeast", blanks: "exclude" },
    ],
    labels: { task: "work" },
    filter: { columns: "all" },
  };
  const clauses = (query: string) => clausesOf(listing, planned(query, listing));

  test("says each condition by itself, with the parameters that it can be changed by", () => {
    const text = encodeURIComponent(
      "cost < 9 AND NOT task IN ('reed', 'rush') AND (task = 'mow' OR passed IS NULL)",
    );
    expect(clauses(`from=2025-02&to=2025-02&task=mow&task=dredge&filter=${text}`)).toEqual([
      {
        parameters: ["from", "to"],
        column: "raised",
        words: "raised 1–28 February 2025",
      },
      { parameters: ["task"], column: "task", words: "work neither mow nor dredge" },
      { parameters: ["filter"], column: "cost", id: "filter.0", words: "cost below 9" },
      {
        parameters: ["filter"],
        column: "task",
        id: "filter.1",
        words: "work neither reed nor rush",
      },
      {
        parameters: ["filter"],
        column: null,
        id: "filter.2",
        words: "work is “mow” or passed blank",
      },
      { parameters: ["order"], column: "raised", words: "latest first" },
    ]);
  });

  test("a group and a search of several words are one clause each, as they are changed", () => {
    const searching: ListingDeclaration = {
      ...listing,
      parameters: [
        {
          name: "find",
          type: "search",
          columns: ["task"],
          comparison: "contains",
          blanks: "exclude",
        },
      ],
    };
    const text = encodeURIComponent("cost < 9 AND (cost > 1 AND task = 'mow')");
    const result = planned(`find=gate+repair&filter=${text}`, searching);
    expect(clausesOf(searching, result).map(({ parameters, id }) => [parameters[0], id])).toEqual([
      ["find", undefined],
      ["filter", "filter.0"],
      ["filter", "filter.1"],
      ["order", undefined],
    ]);
  });

  test.each([
    ["task=mow", "work not mow"],
    ["task=mow%2C+dredge&task=nor", "work neither “mow, dredge” nor “nor”"],
    ["task=a&task=b&task=c&task=d&task=e&task=f&task=g", "work neither a, b, c, d, e nor 2 others"],
    ["from.blank=only", "raised blank"],
    ["from=today&from.blank=include", "raised from 15 February 2025 (today), or blank"],
    ["least=5&order=cost", "cost at least 5"],
  ])("%s is said as “%s”", (query, words) => {
    expect(clauses(query)[0]?.words).toBe(words);
  });

  test("says nothing but the order where nothing is requested", () => {
    expect(clauses("order=cost").map(({ words }) => words)).toEqual(["by cost, ascending"]);
  });
});

describe("windowViews", () => {
  test("gives each comparison its canonical window", () => {
    const listing = {
      ...LISTING,
      parameters: (["on", "notOn", "from", "after", "before", "to"] as const).map((comparison) =>
        parameter({ name: comparison, comparison }),
      ),
    };
    const query = "on=2025-02&notOn=2025-02&from=2025-02&after=2025-02&before=2025-02&to=2025-02";
    const result = planned(query, listing);
    const applied = appliedDates(result);
    expect(
      Object.fromEntries(applied.map(({ parameter: name, canonical }) => [name, canonical])),
    ).toEqual({
      on: "2025-02",
      notOn: "../2025-01-31|2025-03-01/..",
      from: "2025-02/..",
      after: "2025-03-01/..",
      before: "../2025-01-31",
      to: "../2025-02",
    });
  });
});

describe("checkListing", () => {
  test("reports what a parameter of dates cannot be", () => {
    expect(
      codes({
        parameters: [
          parameter({ name: "a", type: "window", comparison: "from" }),
          parameter({ name: "b", accepts: { encoding: "text", patterns: ["qq"] } }),
          parameter({ name: "c", fields: { month: "month" } }),
          parameter({ name: "d", fields: { year: "order", month: "A" } }),
          parameter({ name: "e", limits: { earliest: "2020/2021", longest: "a year" } }),
          parameter({ name: "f", type: "window", comparison: "on", fields: { year: "y" } }),
        ],
        calendar: { weekStart: "XX" },
      }),
    ).toEqual([
      ["calendar.weekStart", "calendar.setting"],
      ["parameters.0.comparison", "parameter.comparison"],
      ["parameters.2.fields", "parameter.setting"],
      ["parameters.3.fields.year", "name.reserved"],
      ["parameters.3.fields.month", "name.taken"],
      ["parameters.4.limits.earliest", "window.oneDate"],
      ["parameters.4.limits.longest", "window.form"],
      ["parameters.5.fields", "parameter.setting"],
      ["parameters.1.accepts", "reading.pattern"],
    ]);
  });

  const codes = (more: Partial<ListingDeclaration>) =>
    checkListing({ ...LISTING, ...more }, COLUMNS).map(({ code, path }) => [path, code]);

  test("takes a listing without fault", () => {
    expect(codes({})).toEqual([]);
  });

  test("reports every fault with its place", () => {
    expect(
      codes({
        name: "9 works",
        zone: "Europe/Lodnon",
        mainDate: "task",
        columns: ["raised", "tsak"],
        order: { allowed: ["raised", "task", "prize"], default: "-cost" },
        page: { size: 600, max: 500 },
      }),
    ).toEqual([
      ["name", "name.form"],
      ["zone", "zone.unknown"],
      ["mainDate", "column.notDate"],
      ["columns.1", "column.unknown"],
      ["order.allowed.2", "column.unknown"],
      ["order.default", "order.unknown"],
      ["page.size", "page.size"],
    ]);
  });

  test("reports the faults of parameters", () => {
    expect(
      codes({
        parameters: [
          parameter({ name: "asof" }),
          parameter({ name: "from", pair: "alone" }),
          parameter({ name: "From" }),
          parameter({ name: "when", column: "rased" }),
          parameter({ name: "datetime", type: "datetime" }),
        ],
      }),
    ).toEqual([
      ["parameters.0.name", "name.reserved"],
      ["parameters.2.name", "name.taken"],
      ["parameters.3.column", "column.unknown"],
      ["parameters.4.type", "parameter.precision"],
      ["parameters", "pair.incomplete"],
    ]);
  });
});

describe("differenceInWords", () => {
  test("says what belongs to whoever asks as it is written, where nobody does", () => {
    const context = {
      asOf: NOW,
      zone: UTC,
      calendar: ISO_CALENDAR,
      columns: COLUMNS,
      caller: "caller()",
    };
    const fixedFilter = "task = caller('lock') or task = caller()";
    expect(differenceInWords(LISTING, { ...LISTING, fixedFilter }, context)).toEqual([
      "only: task is “caller('lock')” or task is “caller()”",
    ]);
  });
});

describe("a listing that takes phrases", () => {
  const WITH_PHRASES: ListingDeclaration = {
    ...LISTING,
    phrases: true,
    parameters: [
      ...LISTING.parameters,
      parameter({ name: "in", type: "window", comparison: "on" }),
    ],
  };
  const canonical = (query: string) =>
    appliedDates(planned(query, WITH_PHRASES)).map((applied) => applied.canonical);

  test.each([
    ["from=3 Apr 2025", "2025-04-03/.."],
    ["from=April 3, 2025&to=5.4.2025", "2025-04-03/.. ../2025-04-05"],
    ["to=last Friday", "../2025-02-14"],
    ["from=last month", "month-1/.."],
    ["from=2025-02-03", "2025-02-03/.."],
    ["in=last 3 months", "month-3/month-1"],
    ["in=since Monday", "2025-02-10/.."],
    ["in=until Friday", "../2025-02-21"],
    ["passedFrom=3 days ago", "day-3/.."],
  ])("reads %s as %s", (query, window) => {
    expect(canonical(query).join(" ")).toBe(window);
  });

  test.each([
    ["from=Monday", "phrase.ambiguous", ["2025-02-10", "2025-02-17"]],
    ["from=3/4/2025", "phrase.ambiguous", ["2025-04-03", "2025-03-04"]],
    ["from=last 3 months", "window.oneDate", undefined],
    ["from=next to nothing", "window.word", undefined],
    ["from=31 February 2025", "date.impossible", undefined],
    ["from=Friday 1 February 2025", "phrase.weekday", ["2025-02-01"]],
    ["in=last 0 days", "phrase.nothing", undefined],
  ])("refuses %s with %s", (query, code, nearest) => {
    const found = faults(query, WITH_PHRASES);
    expect(found.map((each) => [each.code, each.parameter, each.nearest])).toEqual([
      [code, query.split("=", 1)[0], nearest],
    ]);
  });

  test("reads them in the language that it names, and in English", () => {
    const german = { ...WITH_PHRASES, phrases: "de-AT" };
    const read = (query: string) =>
      appliedDates(planned(query, german)).map((applied) => applied.canonical);
    expect(read("in=letzten Monat")).toEqual(["month-1"]);
    expect(read("in=last month")).toEqual(["month-1"]);
    expect(read("from=3. April 2025")).toEqual(["2025-04-03/.."]);
    expect(faults("in=letzten Monat", WITH_PHRASES)).toHaveLength(1);
    expect(checkListing({ ...german, phrases: "tlh" }, COLUMNS)).toMatchObject([
      { code: "phrase.locale", path: "phrases", value: "tlh" },
    ]);
  });

  test("reads them in a filter too, and nowhere else", () => {
    const filtered: ListingDeclaration = { ...WITH_PHRASES, filter: { columns: "all" } };
    const windows = (query: string, listing = filtered) => planned(query, listing).requested.filter;
    expect(windows("filter=inWindow(raised, 'since Monday')")).toEqual(windows("in=2025-02-10/.."));
    expect(windows("filter=raised >= DATE('3 Apr 2025')")).toEqual(windows("from=2025-04-03"));
    expect(windows("filter=T_DURING(raised, INTERVAL('2025-04-03', '..'))")).toEqual(
      windows("from=2025-04-03"),
    );
    const both = faults("filter=inWindow(raised, '3/4/2025')", filtered);
    expect(both).toMatchObject([
      { code: "phrase.ambiguous", parameter: "filter", nearest: ["2025-04-03", "2025-03-04"] },
    ]);
    expect(faults("filter=raised > DATE('last month')", filtered)).toMatchObject([
      { code: "date.form", nearest: ["month-1"] },
    ]);
    const exact = { ...filtered, phrases: false };
    expect(faults("filter=inWindow(raised, 'since Monday')", exact)).toHaveLength(1);
    expect(planned("filter=inWindow(raised, 'since Monday')", filtered).timeDependence).toBe(
      "steps",
    );
  });

  test("keeps no answer beyond the day of which a phrase speaks", () => {
    const context = { asOf: NOW, zone: UTC, calendar: ISO_CALENDAR };
    const until = (query: string) =>
      untilChange({}, planned(query, WITH_PHRASES), COLUMNS, context) / 3_600_000;
    expect(until("in=2025-02-10/..")).toBe(Infinity);
    expect(until("in=since Monday")).toBe(10.5);
    expect(planned("in=since Monday", WITH_PHRASES).timeDependence).toBe("steps");
  });
});

describe("a date, a window or a word that is refused", () => {
  const FILTERED: ListingDeclaration = { ...LISTING, filter: { columns: "all" } };
  test.each([
    ["from=3 Apr 2025", ["2025-04-03"]],
    ["from=April 3, 2025", ["2025-04-03"]],
    ["from=2025/4/3", ["2025-04-03"]],
    ["from=13.4.2025", ["2025-04-13"]],
    ["from=3/4/2025", ["2025-04-03", "2025-03-04"]],
    ["from=last month", ["month-1"]],
    ["from=3 days ago", ["day-3"]],
    ["from=last Monday", ["2025-02-10"]],
    ["from=last 3 months", undefined],
    ["from=31/02/2025", undefined],
    ["from=next to nothing", undefined],
    ["filter=raised > DATE('3 Apr 2025')", ["2025-04-03"]],
    ["filter=inWindow(raised, 'last 3 months')", ["month-3/month-1"]],
    ["filter=inWindow(raised, 'since Monday')", ["2025-02-10/.."]],
    ["filter=cost BETWEN 1 AND 3", ["BETWEEN"]],
    ["filter=cost BETWEEN 1 ADN 3", ["AND"]],
    ["filter=task LIEK 'a%'", ["LIKE"]],
    ["filter=task IS NUL", ["NULL"]],
    ["filter=cost = 1 ND task = 'x'", ["AND"]],
    ["filter=cost = 1 then", undefined],
    ["filter=cost == 1", ["="]],
    ["filter=cost != 1", ["<>"]],
    ["filter=cost = 1 %26%26 cost = 2", ["AND"]],
    ["filter=cots = 1", ["cost"]],
    ["filter=task = '== %26%26'", null],
  ])("%s has what was probably meant as its nearest: %s", (query, nearest) => {
    const found = faults(query, FILTERED);
    expect(found.map((each) => each.nearest)).toEqual(nearest === null ? [] : [nearest]);
  });
});
