/**
 * Words that have no innocent use here, each with the one that is written instead. Texts, comments and
 * identifiers are looked at; all other wording is for review.
 */
import { readFileSync } from "node:fs";
import { extname, join } from "node:path";
import { execFileSync } from "node:child_process";
import { ROOT } from "./bootstrap.mjs";

/** What is found, and what is written instead. */
const WORDS = [
  [/\bwhence\b/i, "partition, or source"],
  [/\blaps(?:e|es|ed)\b/i, "expire, expires, expired"],
  [/\bbarred\b/i, "disabled"],
  [/\bfin(?:year|quarter)\b|\bfinYear\w*/, "fiscalyear, fiscalquarter, fiscalYearStart"],
  [/\blaidOut\b/, "a name that says what it holds"],
  [/\bunless (?:told|given|named)\b/i, "by default"],
  [/\bput(?:s|ting)? (?:\w+ ){0,3}away\b/i, "close, or remove"],
  [/\btotalIs\b|"notCounted"/, "totalExact"],
  [/\bletterCase\b/, "caseSensitive"],
  [/\bsensibleParameters\b/, "defaultParameters"],
  [/\bLateChoices\b/, "RecentChoices"],
  [/\bfreshFor\b/, "maxAge"],
  [/\bblanksAside\b/, "groupNulls"],
  [/\borRefused\b/, "catchFault"],
  [/\bturnedRound\b/, "reversed"],
  [
    /\bwhileAsked\b|\bmustBeAsked\b|\bCallerGone\b/,
    "withAbort, throwIfAborted, ClientDisconnected",
  ],
  [/\bsteadyWall\b|\beverMatches\b|\bisAsItStands\b/, "a name that says what it holds"],
  [/\b(?:newest|oldest) first\b/i, "latest first, earliest first"],
  [/\buntil before\b/i, "before"],
  [/\bis since ever\b|\bis for good\b/i, "means no start, means no end"],
  [/\btook effect as\b/i, "applied as"],
  [/\btold apart\b|\btells? \w+ apart\b/i, "distinguished, distinguishes"],
  [/\bas (?:it is|they are) told\b/i, "as it is returned"],
  [/\b(?:instants?|moments?|days?) of asking\b/i, "instant of the request, as-of day"],
  [/\bsign by sign\b/i, "character by character"],
  [/\bbrought in\b/i, "imported"],
  [/(?<!items-)\bstretch(?:es)?\b/i, "interval, or span"],
  [/\btexts\b/, "strings"],
  [/\bMOST_[A-Z]|\bTold[A-Z]|\bbare(?:Table|Column|Cells|Dates)/, "MAX_…, …View, attached…"],
  [/\bsettl(?:ed|es|ing)\b/i, "set the reading, confirmed"],
];

const LOOKED_AT = new Set([".ts", ".tsx", ".mjs", ".md", ".css", ".html"]);
/** Where old names stand on purpose: what is stored, what is refused, what changed. */
const LEFT_OUT =
  /\/migrations\/|test\/database\.test\.ts$|faults\/nearest\.test\.ts$|renamed(?:\.test)?\.ts$|^CHANGELOG\.md$|^scripts\/words\.mjs$|^lint\//;

/**
 * The lines of some files that have such a word, each with what is written instead.
 * @param {readonly { readonly name: string, readonly text: string }[]} files
 * @returns {readonly string[]}
 */
export function wordsIn(files) {
  return files.flatMap(({ name, text }) =>
    text.split("\n").flatMap((line, index) =>
      WORDS.flatMap(([word, instead]) => {
        const found = word.exec(line);
        return found === null ? [] : [`${name}:${index + 1}: “${found[0]}”: write ${instead}`];
      }),
    ),
  );
}

/** The files of the project that people read. */
export function filesLookedAt() {
  const names = execFileSync("git", ["ls-files"], { cwd: ROOT, encoding: "utf8" }).split("\n");
  return names
    .filter((name) => LOOKED_AT.has(extname(name)) && !LEFT_OUT.test(name))
    .map((name) => ({ name, text: readFileSync(join(ROOT, name), "utf8") }));
}

if (process.argv[1] === import.meta.filename) {
  const found = wordsIn(filesLookedAt());
  for (const line of found) process.stderr.write(`${line}\n`);
  process.exitCode = found.length === 0 ? 0 : 1;
}
