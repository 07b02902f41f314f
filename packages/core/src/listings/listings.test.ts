import { describe, expect, test } from "@jest/globals";
import { UTC, findZone } from "../calendar/index.js";
import { renderFault, renderNotice } from "../faults/index.js";
import type { Catalogue } from "../filters/index.js";
import { checkListing } from "./check.js";
import type { ListingDeclaration, ParameterDeclaration } from "./declaration.js";
import { planRequest } from "./request.js";
import { intervalText, sentenceOf, windowTexts } from "./words.js";

const COLUMNS: Catalogue = new Map([
  ["raised", { name: "raised", type: "date", kind: "date" }],
  ["passed", { name: "passed", type: "date", kind: "instant" }],
  ["task", { name: "task", type: "text" }],
  ["cost", { name: "cost", type: "integer" }],
]);

function parameter(more: Partial<ParameterDeclaration> & { name: string }): ParameterDeclaration {
  return { type: "date", column: "raised", comparison: "from", blanks: "leave", ...more };
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
    parameter({ name: "passedFrom", type: "moment", column: "passed" }),
    parameter({ name: "raisedOn", comparison: "on" }),
  ],
  columns: [],
  order: { allowed: ["raised", "cost"], default: "-raised" },
  page: { size: 50, most: 500 },
  reversed: "swap",
};

const LONDON = findZone("Europe/London");

function plan(query: string, listing: ListingDeclaration = LISTING) {
  const sent = new Map<string, string[]>();
  for (const [name, value] of new URLSearchParams(query)) {
    sent.set(name, [...(sent.get(name) ?? []), value]);
  }
  return planRequest(listing, sent, { zone: LONDON.ok ? LONDON.value : UTC, columns: COLUMNS });
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

function bounds(query: string) {
  return planned(query).conditions.map(({ condition: { interval } }) => {
    const { startLocal, endLocal } = intervalText(interval);
    return [startLocal?.slice(0, 10) ?? null, endLocal?.slice(0, 10) ?? null];
  });
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
    expect(planned(query).conditions).toEqual([]);
  });

  test("a moment at exactly midnight as an end is told of: pickers send it for the day", () => {
    const listing = {
      ...LISTING,
      parameters: [
        parameter({ name: "to", type: "moment", column: "passed", comparison: "to" }),
        parameter({ name: "from", type: "moment", column: "passed" }),
      ],
    };
    const codes = (query: string) => planned(query, listing).notices.map(({ code }) => code);
    expect(codes("to=2025-02-28T00:00")).toEqual(["edge.midnight"]);
    expect(planned("to=2025-02-28T00:00", listing).notices.map(renderNotice)[0]?.message).toBe(
      "“to” ends at the very first moment of 2025-02-28; if the day is meant, send 2025-02-28",
    );
    for (const query of ["to=2025-02-28", "to=2025-02-28T00:01", "from=2025-02-28T00:00"]) {
      expect(codes(query)).toEqual([]);
    }
  });

  test("a T or a plus that became a space is read as it was meant, and dashes as hyphens", () => {
    const windows = (query: string) =>
      planned(query)
        .conditions.map(({ parameters }) => parameters.map(({ written }) => written.canonical))
        .flat();
    expect(windows("passedFrom=2025-02-28 14:30")).toEqual(["2025-02-28T14:30"]);
    expect(windows("passedFrom=2025-02-28T14:30+01:00")).toEqual(["2025-02-28T14:30+01:00"]);
    expect(windows("from=2025\u201302\u201328")).toEqual(["2025-02-28"]);
    expect(planned("from=2025\u201302\u201328").notices.map(({ code }) => code)).toEqual([
      "value.dashes",
    ]);
    expect(faults("from=2025-02 28").map(({ code }) => code)).toEqual(["date.form"]);
  });

  test("reversed dates are swapped with a notice, and the windows show what took effect", () => {
    const result = planned("from=2025-02-28&to=2025-02-01");
    expect(result.notices.map(renderNotice)).toEqual([
      {
        code: "window.swapped",
        message: "the dates came in reverse order and were swapped: from 2025-02-01 to 2025-02-28",
      },
    ]);
    const { from, to } = windowTexts(result);
    expect([from?.value, to?.value]).toEqual(["2025-02-01", "2025-02-28"]);
  });

  test("reversed dates are refused where the listing says so, naming both", () => {
    const [fault, ...others] = faults("from=2025-02-28&to=2025-02-01", {
      ...LISTING,
      reversed: "refuse",
    });
    expect(others).toEqual([]);
    expect(fault).toMatchObject({
      parameter: "to",
      code: "window.reversed",
      message: "the end 2025-02-01 is before the start 2025-02-28",
    });
  });

  test("every fault is told at once, in the order of sending", () => {
    const found = faults(
      "order=-rased&form=2025-01-01&to=2025-13-01&from=31/02/2025&from.blank=maybe&zone=UTC",
    );
    expect(found.map(({ parameter: name, code, nearest }) => [name, code, nearest])).toEqual([
      ["order", "order.unknown", "-raised"],
      ["form", "parameter.unknown", "from"],
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

  test("blanks are left out unless the request keeps them, or keeps only them", () => {
    const policies = (query: string) =>
      planned(query).conditions.map(({ condition }) => condition.blanks);
    expect(policies("from=2025")).toEqual(["leave"]);
    expect(policies("from=2025&to.blank=keep")).toEqual(["keep"]);
    expect(policies("from.blank=only")).toEqual(["only"]);
    expect(policies("from.blank=keep")).toEqual([]);
    expect(faults("from=2025&from.blank=keep&to.blank=only")).toMatchObject([
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

  test("white space around a value is left out, with a notice", () => {
    expect(planned("from=%202025-02%20").notices.map(({ code }) => code)).toEqual([
      "value.trimmed",
    ]);
    expect(planned("from=2025-02").notices).toEqual([]);
  });

  test("an edge that a clock change touches is told for instants, and is no matter for days", () => {
    expect(planned("passedFrom=2026-03-29T01:30").notices.map(({ code }) => code)).toContain(
      "edge.skipped",
    );
    expect(planned("from=2026-03-29").notices).toEqual([]);
  });
});

describe("sentenceOf", () => {
  const sentence = (query: string) => sentenceOf(LISTING, planned(query));

  test("says column, both ends, zone, blanks and order", () => {
    expect(sentence("from=2025-02-01&to=2025-02")).toBe(
      "Works raised: raised from 1 February 2025 to the end of 28 February 2025, Europe/London, " +
        "blank and unreadable dates left out; newest first.",
    );
    expect(sentence("")).toBe("Works raised: every record, dated or not; newest first.");
    expect(sentence("from.blank=only&order=cost")).toBe(
      "Works raised: raised blank; by cost, ascending.",
    );
    expect(sentence("raisedOn=2025-02")).toContain("raised on February 2025");
  });
});

describe("windowTexts", () => {
  test("gives each comparison its canonical window", () => {
    const listing = {
      ...LISTING,
      parameters: (["on", "notOn", "from", "after", "before", "to"] as const).map((comparison) =>
        parameter({ name: comparison, comparison }),
      ),
    };
    const query = "on=2025-02&notOn=2025-02&from=2025-02&after=2025-02&before=2025-02&to=2025-02";
    const windows = windowTexts(planned(query, listing));
    expect(
      Object.fromEntries(Object.entries(windows).map(([name, { canonical }]) => [name, canonical])),
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
  const codes = (more: Partial<ListingDeclaration>) =>
    checkListing({ ...LISTING, ...more }, COLUMNS).map(({ code, path }) => [path, code]);

  test("takes a listing without fault", () => {
    expect(codes({})).toEqual([]);
  });

  test("tells every fault with its place", () => {
    expect(
      codes({
        name: "9 works",
        zone: "Europe/Lodnon",
        mainDate: "task",
        columns: ["raised", "tsak"],
        order: { allowed: ["raised", "task", "prize"], default: "-cost" },
        page: { size: 600, most: 500 },
      }),
    ).toEqual([
      ["name", "name.form"],
      ["zone", "zone.unknown"],
      ["mainDate", "column.notDate"],
      ["columns.1", "column.unknown"],
      ["order.allowed.1", "column.notOrdered"],
      ["order.allowed.2", "column.unknown"],
      ["order.default", "order.unknown"],
      ["page.size", "page.size"],
    ]);
  });

  test("tells the faults of parameters", () => {
    expect(
      codes({
        parameters: [
          parameter({ name: "asof" }),
          parameter({ name: "from", pair: "alone" }),
          parameter({ name: "From" }),
          parameter({ name: "when", column: "rased" }),
          parameter({ name: "moment", type: "moment" }),
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
