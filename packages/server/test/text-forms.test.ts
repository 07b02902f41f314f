import { addNames } from "@orisma/core/internal";
import { OTHER_NAMES } from "@orisma/core/names";
import { tryColumns } from "../../../test/columns-oracle.js";
import { BIGINT, NEARLY, VARCHAR, digits, text, type Encoded } from "../../../test/encoded.js";

addNames(OTHER_NAMES);

const SEED = 20_261_201;

const forms = (
  name: string,
  written: readonly string[],
  declared: Encoded["declared"],
  hostile: readonly string[],
): Encoded => ({
  name,
  types: VARCHAR,
  declared,
  written,
  hostile: [...NEARLY, ...hostile],
});

const PARTIAL = ["yyyy-MM-dd", "yyyy-MM", "yyyy", "MMMM yyyy", "'Q'Q yyyy", "yyyy'?'"];
const ISO_LOCAL = [
  "yyyy-MM-dd",
  "yyyy-MM-dd HH:mm",
  "yyyy-MM-dd'T'HH:mm:ss",
  "yyyy-MM-dd'T'HH:mm:ss.SSS",
];
const ISO_MOMENTS = [
  "yyyy-MM-dd'T'HH:mm:ssXXX",
  "yyyy-MM-dd HH:mm:ss.SSSxxx",
  "yyyy-MM-dd'T'HH:mmXXX",
];
const MIXED = ["d MMM yy", "yyyy-MM-dd", "dd/MM/yyyy", "MM/dd/yyyy"];

/** Columns of strings of several forms, each with strings that are nearly of one. */
const COLUMNS: readonly Encoded[] = [
  forms(
    "short names",
    ["d MMM yyyy"],
    text("d MMM yyyy", "date", { blanks: ["n/a", "1 Mar 2024"], sentinels: ["9999"] }),
    [
      "29 Feb 2024",
      "29 Feb 2023",
      "029 Feb 2024",
      "09 Feb 2024",
      "9 feb 2024",
      "9 Feb 2024",
      "9 Feb 2024 ",
      "1 Mar 2024",
      "9 Fev 2024",
      "9 Feb 20245",
    ],
  ),
  forms("long names", ["EEEE d MMMM yyyy"], text("EEEE d MMMM yyyy", "date", { locales: ["fr"] }), [
    "jeudi 29 février 2024",
    "vendredi 29 février 2024",
    "jeudi 29 fevrier 2024",
    "Jeudi 29 février 2024",
    "jeudi 29 févriers 2024",
  ]),
  forms("mixed", MIXED, text(MIXED, "date", { twoDigitYearFrom: 1960 }), [
    "9 Feb 59",
    "9 Feb 60",
    "29/02/2024",
    "02/29/2024",
    "03/01/2024",
    "13/13/2024",
    "2024-2-29",
  ]),
  forms("half days", ["M/d/yyyy h:mm a"], text("M/d/yyyy h:mm a", "local"), [
    "2/29/2024 12:00 AM",
    "2/29/2024 12:59 PM",
    "2/29/2024 0:30 AM",
    "2/29/2024 13:30 PM",
    "2/29/2024 1:30 am",
    "02/29/2024 1:30 AM",
    "2/29/2024 01:30 AM",
  ]),
  forms("iso", ISO_LOCAL, text("iso8601", "local"), [
    "2024-02-29T24:00",
    "2024-02-29t10:00",
    "2024-02-29T10:00Z",
    "2024-02-30",
  ]),
  forms("iso days", [...ISO_LOCAL, ...ISO_MOMENTS], text("iso8601", "date", { zone: "UTC" }), [
    "2024-02-28T23:30:00-01:00",
    "2024-03-01T00:30:00+01:00",
    "2024-03-01T00:30:00-00:00",
  ]),
  forms("iso moments", ISO_MOMENTS, text("iso8601", "instant"), [
    "2024-02-29",
    "2024-02-29T10:00",
    "2024-02-29T10:00:00+24:00",
    "0001-01-01T00:00:00+00:01",
    "0001-01-01T00:00:00-00:01",
    "9999-12-31T23:59:59-00:01",
  ]),
  forms("mail", ["EEE, dd MMM yyyy HH:mm:ss 'GMT'"], text("rfc5322", "instant", { zone: "UTC" }), [
    "Thu, 29 Feb 2024 12:00:00 +0100",
    "Fri, 29 Feb 2024 12:00:00 +0100",
    "Thu, 29 Feb 2024 12:00:00 GMT",
    "Thu, 1 Feb 2024 12:00:00 -0930",
    "Thu, 29 Feb 2024 12:00:00 -0000",
  ]),
  forms(
    "offsets",
    ["dd.MM.yyyy HH:mm:ss.SSSSSS X"],
    text("dd.MM.yyyy HH:mm:ss.SSSSSS X", "instant"),
    [
      "29.02.2024 10:00:00.123000 +0530",
      "29.02.2024 10:00:00.123000 +0500",
      "29.02.2024 10:00:00.123000 +05",
      "29.02.2024 10:00:00.123400 +05",
      "29.02.2024 10:00:00.123000 +00",
    ],
  ),
  forms("weeks", ["YYYY-'W'ww-e"], text("YYYY-'W'ww-e", "date"), [
    "2020-W53-7",
    "2021-W53-1",
    "2024-W00-1",
    "2024-W09-8",
    "2024-W09-0",
    "2024-Waa-1",
    "2024-W09-4",
  ]),
  forms("days of years", ["yyyy/D"], text("yyyy/D", "date"), [
    "2024/366",
    "2023/366",
    "2024/060",
    "2024/60",
    "2024/0",
    "2024/367",
    "2024/6x",
  ]),
  forms("quarters", ["'Q'Q d MMM yyyy G"], text("'Q'Q d MMM yyyy G", "date"), [
    "Q1 29 Feb 2024 AD",
    "Q2 29 Feb 2024 AD",
    "Q1 29 Feb 2024 CE",
    "Qx 29 Feb 2024 AD",
  ]),
  forms("start", PARTIAL, text(PARTIAL, "date", { partial: "start" }), [
    "Q5 2024",
    "2024-13",
    "0000",
    "February 2024",
  ]),
  forms("inside", PARTIAL, text(PARTIAL, "date", { partial: "inside" }), [
    "Q0 2024",
    "2024-00",
    "2024?",
  ]),
  forms(
    "overlaps",
    ["yyyy-MM-dd", "yyyy-MM", "yyyy"],
    text("iso8601", "date", { partial: "overlaps", blanks: ["2024"] }),
    ["2024", "2024-02", "9999", "9999-12", "0001"],
  ),
  {
    name: "months in digits",
    types: BIGINT,
    declared: digits("yyyyMM", "date", { partial: "inside", blanks: ["0"] }),
    written: ["yyyyMM"],
    hostile: [0, 202402, 202413, 202400, 20240229, 9912, 999912, 101],
  },
  {
    name: "days in digits",
    types: BIGINT,
    declared: digits("ddMMyyyy", "date"),
    written: ["ddMMyyyy"],
    hostile: [0, 29022024, 29022023, 1022024, 31122024],
  },
];

tryColumns("strings of several forms", {
  columns: COLUMNS,
  seed: SEED,
  conditions: 25,
});
