import type { NewListing } from "@orisma/client";

/** What people call the dates of a work order. */
const LABELS = { reported_on: "reported", due_on: "due", finished_on: "finished" };

export const WORKS_RAISED: NewListing = {
  title: "Work orders",
  source: "works",
  zone: "Europe/London",
  mainDate: "reported_on",
  labels: LABELS,
  parameters: [
    { name: "from", type: "date", column: "reported_on", comparison: "from", pair: "reported_on" },
    { name: "to", type: "date", column: "reported_on", comparison: "to", pair: "reported_on" },
  ],
  order: { allowed: ["reported_on", "due_on", "cost"], default: "-reported_on" },
  filter: { columns: "all" },
};

const MARK_FINISHED = {
  label: "Mark finished",
  set: { status: "finished", finished_on: "today" },
} as const;

/** The list of the trust's days off. */
export const DAYS_OFF = "brindle-vale";

function between(column: string): NonNullable<NewListing["parameters"]> {
  return [
    { name: "from", type: "date", column, comparison: "from", pair: column },
    { name: "to", type: "date", column, comparison: "to", pair: column },
  ];
}

/** The listings of the trust, by name. */
export const LISTINGS: Readonly<Record<string, NewListing>> = {
  "works-raised": WORKS_RAISED,
  "works-open": {
    title: "Open work orders",
    source: "works",
    zone: "Europe/London",
    mainDate: "due_on",
    fixedFilter: "NOT status IN ('finished', 'cancelled')",
    parameters: [
      ...between("due_on"),
      {
        name: "priority",
        type: "several",
        column: "priority",
        comparison: "among",
        values: ["high", "medium", "low"],
      },
      { name: "least", type: "decimal", column: "cost", comparison: "atLeast", pair: "cost" },
      { name: "most", type: "decimal", column: "cost", comparison: "atMost", pair: "cost" },
      { name: "find", type: "search", columns: ["task", "place"], comparison: "contains" },
    ],
    units: { cost: { scale: 2 } },
    labels: { ...LABELS, cost: "cost in pounds" },
    choices: { priority: { groups: { pressing: ["high", "medium"] } } },
    editable: ["due_on", "finished_on", "priority", "status", "cost", "task"],
    actions: {
      finish: MARK_FINISHED,
      cancel: { label: "Cancel the order", set: { status: "cancelled", finished_on: null } },
    },
    order: {
      allowed: ["due_on", "reported_on", "cost", "priority"],
      default: "due_on",
      tieBreakers: ["-cost"],
    },
    page: { numbered: true },
    resume: true,
  },
  "inspections-due": {
    title: "Lock inspections due",
    source: "inspections",
    zone: "Europe/London",
    mainDate: "Next due",
    parameters: [
      ...between("Next due"),
      {
        name: "due",
        type: "window",
        column: "Next due",
        comparison: "on",
        blanks: "include",
        label: "due in",
      },
    ],
    calendar: { holidayLists: [DAYS_OFF] },
    order: { allowed: ["Next due", "Inspected"], default: "Next due" },
  },
  "closures-begun": {
    title: "Closures",
    source: "closures",
    zone: "Europe/London",
    mainDate: "starts",
    parameters: between("starts"),
    order: { allowed: ["starts", "ends"], default: "-starts" },
  },
  "passages-made": {
    title: "Boat passages",
    source: "passages",
    zone: "Europe/London",
    mainDate: "passed_at",
    labels: { passed_at: "passed" },
    parameters: [
      ...between("passed_at"),
      { name: "made", type: "window", column: "passed_at", comparison: "on", label: "passed in" },
    ],
    order: { allowed: ["passed_at", "toll", "length"], default: "-passed_at" },
  },
  "works-costed": {
    title: "Work orders and costs",
    source: "works",
    zone: "Europe/London",
    mainDate: "reported_on",
    columns: ["order", "reported_on", "task", "status", "priority", "cost", "taken", "quarter"],
    derived: {
      taken: { kind: "days", from: "reported_on", to: "finished_on" },
      quarter: { kind: "part", part: "quarter", column: "reported_on" },
    },
    parameters: [
      ...between("reported_on").map((each) => ({ ...each, default: "extent" })),
      {
        name: "raised",
        type: "date",
        column: "reported_on",
        comparison: "on",
        label: "reported on",
        accepts: { encoding: "text", patterns: ["dd/MM/yyyy"] },
        fields: { year: "year", month: "month" },
      },
      { name: "cost", type: "range", column: "cost", comparison: "within", example: "100/2500" },
      { name: "costing", type: "decimal", column: "cost", comparison: "is" },
      { name: "taken", type: "range", column: "taken", comparison: "within", example: "0/30" },
      { name: "quarter", type: "several", column: "quarter", comparison: "among" },
      { name: "status", type: "several", column: "status", comparison: "noneOf" },
      { name: "task", type: "text", column: "task", comparison: "begins" },
    ],
    units: { cost: { scale: 2 } },
    labels: { ...LABELS, taken: "days taken" },
    formats: { reported_on: { pattern: "EEE d MMM yyyy" }, cost: { decimals: 2, prefix: "£" } },
    choices: { status: { disabled: ["cancelled"] }, priority: { hidden: ["low"] } },
    order: {
      allowed: ["reported_on", "cost", "priority", "taken"],
      default: "-reported_on",
      blanks: "last",
    },
    unknownParameters: "ignore",
    filter: { columns: ["reported_on", "cost", "status", "priority", "task"] },
  },
  "works-here": {
    title: "Open work orders at your place",
    source: "works",
    zone: "Europe/London",
    mainDate: "due_on",
    labels: LABELS,
    // A key of the place's name sees the works of that place, whatever it asks for.
    fixedFilter: "place = caller() AND NOT status IN ('finished', 'cancelled')",
    editable: ["due_on"],
    actions: { finish: MARK_FINISHED },
    allow: { edit: "reader", act: "reader" },
    parameters: between("due_on"),
    order: { allowed: ["due_on"], default: "due_on" },
  },
  "closures-ahead": {
    title: "Current and future closures",
    source: "closures",
    zone: "Europe/London",
    mainDate: "starts",
    fixedFilter: "inWindow(ends, 'now/..') OR ends IS NULL",
    columns: ["closure", "lock.name", "reason", "starts", "ends", "length", "towpathOpen"],
    relations: { lock: { source: "locks", by: "lock", columns: ["name", "opened"] } },
    derived: { length: { kind: "days", from: "starts", to: "ends" } },
    formats: {
      starts: { pattern: "EEE d MMM, HH:mm" },
      ends: { pattern: "EEE d MMM, HH:mm" },
      length: { suffix: " days" },
      towpathOpen: { yes: "open", no: "closed" },
    },
    labels: { "lock.name": "lock", length: "for", towpathOpen: "towpath" },
    public: true,
    feed: {
      title: "{lock.name} closed: {reason}",
      end: "ends",
      description: ["starts", "ends", "towpathOpen"],
      location: "lock.name",
    },
    parameters: [
      ...between("starts"),
      { name: "towpath", type: "boolean", column: "towpathOpen", comparison: "is" },
      { name: "reason", type: "oneOf", column: "reason", comparison: "is" },
      { name: "lock", type: "text", column: "lock.name", comparison: "contains" },
    ],
    order: { allowed: ["starts", "ends", "lock.name"], default: "starts" },
    reversed: "reject",
  },
  "tolls-taken": {
    title: "Tolls",
    source: "passages",
    zone: "Europe/London",
    mainDate: "passed_at",
    columns: ["passage", "passed_at", "hour", "lock.name", "direction", "boat", "length", "toll"],
    relations: { lock: { source: "locks", by: "lock", columns: ["name", "opened", "fall"] } },
    derived: { hour: { kind: "part", part: "hour", column: "passed_at" } },
    units: { toll: { scale: 2 } },
    formats: { passed_at: { pattern: "d MMM yyyy HH:mm" }, toll: { decimals: 2, prefix: "£" } },
    labels: { passed_at: "passed", "lock.name": "lock" },
    parameters: [
      {
        name: "taken",
        type: "window",
        column: "passed_at",
        comparison: "on",
        required: true,
        default: "month",
        label: "passed in",
        limits: { earliest: "2000", longest: "P2Y" },
      },
      {
        name: "direction",
        type: "oneOf",
        column: "direction",
        comparison: "is",
        values: ["up", "down"],
      },
      { name: "length", type: "range", column: "length", comparison: "within" },
      { name: "since", type: "datetime", column: "passed_at", comparison: "after" },
    ],
    order: { allowed: ["passed_at", "toll"], default: "-passed_at", tieBreakers: ["lock"] },
    page: { size: 100, max: 1_000 },
    allow: { asOf: "reader", zone: "reader" },
    cacheFor: { current: "PT1M", past: "P1D" },
    allowedOrigins: ["https://boats.brindle-vale.example"],
  },
  "locks-opened": { title: "Locks", source: "locks", mainDate: "opened" },
  "levels-read": {
    title: "Water levels",
    source: "levels",
    zone: "Europe/London",
    mainDate: "day",
    parameters: between("day"),
    order: { allowed: ["day"], default: "-day" },
  },
  "notices-given": {
    title: "Closure notices",
    source: "closure-notices",
    zone: "Europe/London",
    mainDate: "given",
    rows: "values",
    columns: ["closure", "reason", "starts", "given", "to"],
    parameters: [
      ...between("given"),
      { name: "to-whom", type: "several", column: "to", comparison: "among" },
    ],
    order: { allowed: ["given", "starts"], default: "-given" },
  },
};
