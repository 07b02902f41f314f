import { createHash } from "node:crypto";
import {
  MS_PER_DAY,
  dateTextMs,
  epochMs,
  feedOf,
  readWall,
  titleOf,
  wallMs,
  type FeedDeclaration,
  type RecordAnswer,
  type RecordValue,
  type Zone,
} from "@orisma/core/internal";
import ICAL from "ical.js";
import { Problem } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { formattersOf } from "./display.js";
import type { PreparedRequest } from "./prepared.js";

/** Records that a feed has at most: programs take it whole, every time. */
export const MAX_ENTRIES = 5_000;
/** Octets of a line beside the space that a continued one begins with (RFC 5545, section 3.1). */
ICAL.foldLength = 74;

/** Minutes after which programs look again at the latest. */
const LOOK_AGAIN = 15;
export const LOOK_AGAIN_S = LOOK_AGAIN * 60;

/** A date of an entry: a day as its number since 1970-01-01, or a point in time in milliseconds. */
type Point =
  | { readonly kind: "day"; readonly day: number }
  | { readonly kind: "instant"; readonly ms: number };

/** A record as an event of a calendar, or an entry of a feed. */
interface Entry {
  /** A name-based UUID (RFC 9562), the same as long as the record has its id. */
  readonly uid: string;
  readonly title: string;
  readonly description: string;
  readonly location: string;
  readonly isPlanned: boolean;
  /** Null where it has no such date. */
  readonly start: Point | null;
  readonly end: Point | null;
}

/** When the records became what they are, and how often they have since the source was declared. */
interface Revision {
  readonly at: Date;
  readonly sequence: number;
}

/** Writes records as an iCalendar object (RFC 5545, RFC 7986); those without a date are only counted. */
export function calendarText(prepared: PreparedRequest, records: readonly RecordAnswer[]): string {
  const { listing } = prepared;
  const { at, sequence } = revisionOf(prepared);
  const calendar = new ICAL.Component("vcalendar");
  const set = (name: string, value: string) => calendar.updatePropertyWithValue(name, value);
  set("version", "2.0");
  set("prodid", "-//Orisma//Listings//EN");
  set("name", listing.declaration.title);
  set("x-wr-calname", listing.declaration.title);
  const refresh = new ICAL.Property("refresh-interval");
  refresh.resetType("duration");
  refresh.setValue(ICAL.Duration.fromSeconds(LOOK_AGAIN_S));
  calendar.addProperty(refresh);
  const entries = records.map((record) => entryOf(record, listing));
  const dated = entries.filter(({ start }) => start !== null);
  if (dated.length < entries.length) {
    set("x-orisma-without-date", String(entries.length - dated.length));
  }
  const stamp = ICAL.Time.fromJSDate(at, true);
  for (const entry of dated) calendar.addSubcomponent(eventOf(entry, stamp, sequence));
  return `${calendar.toString()}\r\n`;
}

function eventOf(entry: Entry, stamp: ICAL.Time, sequence: number): ICAL.Component {
  const { uid, title, description, location, isPlanned, start, end } = entry;
  const event = new ICAL.Component("vevent");
  const set = (name: string, value: string | number | ICAL.Time) =>
    event.updatePropertyWithValue(name, value);
  set("uid", uid);
  set("dtstamp", stamp);
  set("sequence", sequence);
  if (start !== null) set("dtstart", timeOf(start));
  const last = start === null ? null : endOf(start, end);
  if (last !== null) set("dtend", timeOf(last));
  set("summary", title);
  if (description !== "") set("description", description);
  if (location !== "") set("location", location);
  set("status", isPlanned ? "TENTATIVE" : "CONFIRMED");
  // A day of work is no appointment of whoever looks at it.
  set("transp", "TRANSPARENT");
  return event;
}

/** The end of an event: of whole days the day after the last; null where there is none, or it lies before. */
function endOf(start: Point, end: Point | null): Point | null {
  if (end === null) return null;
  if (start.kind === "day") {
    const last = end.kind === "day" ? end.day : Math.floor(end.ms / MS_PER_DAY);
    return last < start.day ? null : { kind: "day", day: last + 1 };
  }
  const ms = end.kind === "instant" ? end.ms : (end.day + 1) * MS_PER_DAY;
  return ms <= start.ms ? null : { kind: "instant", ms };
}

function timeOf(point: Point): ICAL.Time {
  if (point.kind === "instant") return ICAL.Time.fromJSDate(new Date(point.ms), true);
  const date = new Date(point.day * MS_PER_DAY);
  return ICAL.Time.fromData({
    year: date.getUTCFullYear(),
    month: date.getUTCMonth() + 1,
    day: date.getUTCDate(),
    isDate: true,
  });
}

/** Writes records as an Atom feed (RFC 4287). */
export function atomText(
  prepared: PreparedRequest,
  records: readonly RecordAnswer[],
  self: string,
): string {
  const { listing } = prepared;
  const { at } = revisionOf(prepared);
  const updated = at.toISOString();
  const { title, name } = listing.declaration;
  const entries = records.map((record) => entryOf(record, listing));
  return [
    '<?xml version="1.0" encoding="utf-8"?>',
    '<feed xmlns="http://www.w3.org/2005/Atom">',
    `<id>urn:uuid:${nameUuid(`listing ${name}`)}</id>`,
    `<title>${escaped(title)}</title>`,
    `<updated>${updated}</updated>`,
    `<author><name>${escaped(title)}</name></author>`,
    `<link rel="self" href="${escaped(self)}"/>`,
    ...entries.flatMap((entry) => [
      "<entry>",
      `<id>urn:uuid:${entry.uid}</id>`,
      `<title>${escaped(entry.title)}</title>`,
      `<updated>${updated}</updated>`,
      ...publishedOf(entry),
      `<content type="text">${escaped(contentOf(entry))}</content>`,
      "</entry>",
    ]),
    "</feed>",
    "",
  ].join("\n");
}

function publishedOf({ start }: Entry): readonly string[] {
  if (start === null) return [];
  const ms = start.kind === "instant" ? start.ms : start.day * MS_PER_DAY;
  return [`<published>${new Date(ms).toISOString()}</published>`];
}

function contentOf({ description, location, isPlanned }: Entry): string {
  return [isPlanned ? "planned" : "", location, description]
    .filter((each) => each !== "")
    .join("\n");
}

/** Text of an XML document: characters that it cannot have are left out. */
function escaped(text: string): string {
  return text
    .replace(/[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, "")
    .replace(/&/g, "&amp;")
    .replace(/</g, "&lt;")
    .replace(/>/g, "&gt;")
    .replace(/"/g, "&quot;");
}

function revisionOf({ listing, derivedAt }: PreparedRequest): Revision {
  const { importedAt, revision } = listing.ofSource;
  return { at: new Date(importedAt ?? derivedAt), sequence: revision ?? 0 };
}

function entryOf(record: RecordAnswer, listing: ServedListing): Entry {
  const feed = feedOf(listing.declaration);
  const text = textsOf(record, listing);
  const { source, ofSource, declaration } = listing;
  const point = (column: string | undefined) =>
    column === undefined ? null : pointOf(record[column] ?? null, column, listing);
  const labels = declaration.labels ?? {};
  const lines = (feed.description ?? []).flatMap((column) => {
    const value = text(column);
    return value === "" ? [] : [`${labels[column] ?? column}: ${value}`];
  });
  const title = titleOf(feed.title, text);
  return {
    uid: nameUuid(`record ${source.name} ${ofSource.ids} ${String(record.id)}`),
    title: title === "" ? `${declaration.title} ${String(record.id)}` : title,
    description: lines.join("\n"),
    location: feed.location === undefined ? "" : text(feed.location),
    isPlanned: isPlanned(record, feed),
    start: point(feed.start),
    end: point(feed.end),
  };
}

function isPlanned(record: RecordAnswer, { planned }: FeedDeclaration): boolean {
  return planned?.values.includes(String(record[planned.column] ?? "")) === true;
}

/** Values as people see them. */
function textsOf(record: RecordAnswer, listing: ServedListing): (column: string) => string {
  const shows = formattersOf(listing);
  return (column) => {
    const value: RecordValue = record[column] ?? null;
    return value === null ? "" : (shows.get(column)?.(value) ?? String(value));
  };
}

/** A date of a record; null for a blank one. Wall-clock times are those of the listing's zone. */
function pointOf(value: RecordValue, column: string, listing: ServedListing): Point | null {
  if (typeof value !== "string") return null;
  const ms = dateTextMs(value);
  const found = listing.columns.get(column);
  if (Number.isNaN(ms) || found?.type !== "date") return null;
  if (found.kind === "date") return { kind: "day", day: Math.floor(ms / MS_PER_DAY) };
  return { kind: "instant", ms: found.kind === "local" ? atZone(ms, listing.zone) : ms };
}

/** Of a time that comes twice the first, of one that never comes the moment of the jump. */
function atZone(wall: number, zone: Zone): number {
  const read = readWall(zone, wallMs(wall));
  if (read.kind === "once") return read.instant;
  return epochMs(read.kind === "twice" ? read.earlier : read.change);
}

/** A UUID that is made of a name (RFC 9562, version 8). */
function nameUuid(name: string): string {
  const bytes = createHash("sha256").update(`orisma ${name}`).digest().subarray(0, 16);
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x80;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = bytes.toString("hex");
  return [
    hex.slice(0, 8),
    hex.slice(8, 12),
    hex.slice(12, 16),
    hex.slice(16, 20),
    hex.slice(20),
  ].join("-");
}

/** Throws a problem for more records than a feed has: none of them would be missed in silence. */
export function mustFitFeed(count: number): void {
  if (count <= MAX_ENTRIES) return;
  const most = MAX_ENTRIES.toLocaleString("en");
  throw new Problem(
    "too-large",
    `A calendar or feed has ${most} records at most, and the request keeps more: request a shorter window`,
  );
}
