import { epochMs, findZone, wallAt, type Edge } from "@orisma/core/internal";
import { tryColumns } from "../../../test/columns-oracle.js";
import {
  BIGINT,
  DOUBLE,
  NEARLY,
  VARCHAR,
  digits,
  native,
  number,
  text,
  type Encoded,
} from "../../../test/encoded.js";

const SEED = 20_261_202;
const LONDON = { zone: "Europe/London" };
const NEW_YORK = { zone: "America/New_York" };
const HAVANA = { zone: "America/Havana" };
const APIA = { zone: "Pacific/Apia" };

/** Wall-clock times as London, New York, Havana or Apia never had them, or had them twice, and at the ends of time. */
const WALLS = [
  "2024-03-31 00:59:59",
  "2024-03-31 01:00:00",
  "2024-03-31 01:59:59",
  "2024-03-31 02:00:00",
  "2024-10-27 00:59:59",
  "2024-10-27 01:00:00",
  "2024-10-27 01:30:00",
  "2024-10-27 02:00:00",
  "2024-03-10 02:30:00",
  "2024-11-03 00:30:00",
  "2024-11-03 01:30:00",
  "2011-12-29 23:59:59",
  "2011-12-30 12:00:00",
  "2011-12-31 00:00:00",
  "1847-12-01 00:00:30",
  "2099-12-31 23:59:59",
  "2150-03-29 01:30:00",
  "2150-10-25 01:30:00",
  "2150-07-01 12:00:00",
  "2152-02-29 12:00:00",
  "0001-01-01 00:00:00",
  "0001-01-01 13:00:00",
  "9999-12-31 23:59:59",
  "9999-12-31 12:00:00",
];
const OUTSIDE = [-62_135_596_801_000, 253_402_300_800_000];
const INSTANTS = WALLS.flatMap((wall) => {
  const ms = Date.parse(`${wall.replace(" ", "T")}Z`);
  return [ms, ms - 3_600_000, ms + 4 * 3_600_000, ms + 5 * 3_600_000];
});
const SECONDS = [...INSTANTS, ...OUTSIDE].map((ms) => ms / 1_000);
const SERIALS = WALLS.map((wall) => Date.parse(`${wall.replace(" ", "T")}Z`) / 86_400_000 + 25_569);

const wallColumns = (
  name: string,
  zone: { readonly zone: string },
  never: readonly string[],
): Encoded => ({
  name,
  types: { mariadb: "DATETIME", postgresql: "TIMESTAMP(0)", sqlite: "TEXT" },
  declared: native("timestamp", "instant", 0, false, { ...zone, sentinels: ["9999-12-31"] }),
  sqlite: text("yyyy-MM-dd HH:mm:ss", "instant", { ...zone, sentinels: ["9999-12-31"] }),
  tick: 1_000,
  hostile: [...WALLS, ...never, ...never, ...never],
});

const COLUMNS: readonly Encoded[] = [
  wallColumns("native", LONDON, []),
  wallColumns("native over midnight", HAVANA, ["2024-03-10 00:30:00"]),
  wallColumns("native with a day left out", APIA, ["2011-12-30 00:00:00", "2011-12-30 23:59:59"]),
  {
    name: "native day",
    types: { mariadb: "DATE", postgresql: "DATE", sqlite: "TEXT" },
    declared: native("date", "instant", 0, false, APIA),
    sqlite: text("yyyy-MM-dd", "instant", APIA),
    tick: 86_400_000,
    hostile: ["9999-12-31", "2011-12-29", "2011-12-30", "2011-12-31"],
  },
  {
    name: "text",
    types: VARCHAR,
    declared: text("yyyy-MM-dd HH:mm:ss", "instant", { ...NEW_YORK, blanks: ["n/a"] }),
    hostile: [...NEARLY, ...WALLS],
  },
  {
    name: "text not in order",
    types: VARCHAR,
    declared: text("dd/MM/yyyy HH:mm:ss", "instant", LONDON),
    hostile: [...NEARLY, "31/03/2024 01:30:00", "27/10/2024 01:30:00", "31/03/2024 02:00:00"],
  },
  {
    name: "digits",
    types: BIGINT,
    declared: digits("yyyyMMddHHmmss", "instant", LONDON),
    tick: 1_000,
    hostile: [0, ...WALLS.flatMap((wall) => (wall > "1" ? [Number(wall.replace(/\D/g, ""))] : []))],
  },
  {
    name: "serial",
    types: DOUBLE,
    declared: number("float", "serial-1900", "instant", LONDON),
    hostile: [0, 0.5, ...SERIALS.filter((serial) => serial >= 0)],
  },
  {
    name: "seconds as days",
    types: BIGINT,
    declared: number("integer", "epoch-s", "date", { ...NEW_YORK, blanks: ["0"] }),
    hostile: [0, ...SECONDS],
  },
  {
    name: "seconds as days over midnight",
    types: BIGINT,
    declared: number("integer", "epoch-s", "date", HAVANA),
    hostile: SECONDS,
  },
  {
    name: "milliseconds as times",
    types: BIGINT,
    declared: number("integer", "epoch-ms", "local", { ...LONDON, sentinels: ["9999-12-31"] }),
    hostile: [...INSTANTS, ...OUTSIDE, ...OUTSIDE, ...OUTSIDE, ...OUTSIDE],
  },
  {
    name: "iso",
    types: VARCHAR,
    declared: text("iso8601", "instant", { ...NEW_YORK, sentinels: ["9999-12-31"] }),
    written: ["yyyy-MM-dd", "yyyy-MM-dd HH:mm", "yyyy-MM-dd'T'HH:mm:ssXXX"],
    hostile: [...NEARLY, ...WALLS, "2024-03-31T01:30:00+01:00", "2024-10-27T01:30:00Z"],
  },
  {
    name: "iso days",
    types: VARCHAR,
    declared: text("iso8601", "date", NEW_YORK),
    written: ["yyyy-MM-dd", "yyyy-MM-dd'T'HH:mm:ssXXX"],
    hostile: [
      ...NEARLY,
      "2024-03-01T04:59:59Z",
      "2024-03-01T05:00:00Z",
      "2024-07-01T04:00:00.000Z",
      "2024-07-01T03:59:59+00:00",
      "0001-01-01T03:00:00Z",
      "9999-12-31T23:59:59-12:00",
    ],
  },
  {
    name: "day of an offset",
    types: VARCHAR,
    declared: text("yyyy-MM-dd'T'HH:mm:ssXXX", "date", LONDON),
    hostile: [...NEARLY, "2024-06-30T23:30:00Z", "2024-06-30T22:30:00Z", "2024-12-31T23:30:00Z"],
  },
  {
    name: "named months",
    types: VARCHAR,
    declared: text("d MMM yyyy HH:mm", "instant", LONDON),
    hostile: [...NEARLY, "31 Mar 2024 01:30", "27 Oct 2024 01:30", "29 Feb 2023 10:00"],
  },
  {
    name: "mail",
    types: VARCHAR,
    declared: text("rfc5322", "instant"),
    written: ["EEE, dd MMM yyyy HH:mm:ss OOOO", "EEE, dd MMM yyyy HH:mm:ss Z"],
    hostile: [
      ...NEARLY,
      "Thu, 29 Feb 2024 12:00:00 GMT",
      "Fri, 29 Feb 2024 12:00:00 GMT",
      "Thu, 29 Feb 2024 12:00:00 GMT+01:00",
      "Thu, 29 Feb 2024 12:00:00",
    ],
  },
  {
    name: "zone by name",
    types: VARCHAR,
    declared: text("yyyy-MM-dd HH:mm VV", "instant", LONDON),
    hostile: [
      ...NEARLY,
      "2024-03-31 01:30 Europe/London",
      "2024-10-27 01:30 Europe/London",
      "2024-10-27 01:30 Europe/Paris",
      "2024-10-27 01:30 europe/london",
    ],
  },
  {
    name: "times of a zone by name",
    types: VARCHAR,
    declared: text("yyyy-MM-dd HH:mm VV", "local", LONDON),
    hostile: [...NEARLY, "2024-03-31 01:30 Europe/London", "2024-10-27 01:30 Europe/London"],
  },
];

const edge = (zone: string, text: string): Edge => {
  const found = findZone(zone);
  if (!found.ok) throw new Error(zone);
  const instant = epochMs(Date.parse(text));
  return { instant, wall: wallAt(found.value, instant) };
};

/** Around hours that come twice, or never. */
const WINDOWS = [
  ["Europe/London", "2024-03-31T00:30Z", "2024-03-31T01:15Z"],
  ["Europe/London", "2024-10-27T00:15Z", "2024-10-27T00:45Z"],
  ["Europe/London", "2024-10-27T00:45Z", "2024-10-27T01:20Z"],
  ["Europe/London", "2024-10-27T01:15Z", "2024-10-27T02:30Z"],
  ["America/Havana", "2024-11-03T04:15Z", "2024-11-03T05:15Z"],
  ["America/Havana", "2024-11-03T04:00Z", "2024-11-04T05:00Z"],
  ["Pacific/Apia", "2011-12-30T09:59Z", "2011-12-30T10:30Z"],
  ["Europe/London", "2150-03-29T00:30Z", "2150-10-25T00:45Z"],
].map(([zone = "", from = "", to = ""]) => [edge(zone, from), edge(zone, to)] as const);

tryColumns("columns of a zone", {
  columns: COLUMNS,
  seed: SEED,
  conditions: 6,
  windows: WINDOWS,
});
