import {
  takesDates,
  type ParameterDeclaration,
  type RecordAnswer,
  type SentParameters,
} from "@orisma/core/internal";
import type { ServedListing } from "../listings/index.js";
import type { PreparedRequest, RecordsPage } from "../records/index.js";
import { Html, html } from "./html.js";

/** What a page of a public listing shows. */
export interface ShownListing {
  readonly listing: ServedListing;
  readonly sent: SentParameters;
  /** Null where the request was refused. */
  readonly found: { readonly prepared: PreparedRequest; readonly page: RecordsPage } | null;
  /** What is wrong with the request, in words. */
  readonly refused: readonly string[];
}

/** A public listing as a page of its own: whole without scripts, and printed without its form. */
export function listingPage(shown: ShownListing): string {
  const { listing, found, refused } = shown;
  const { title, name } = listing.declaration;
  const page = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${title}</title>
        <meta name="description" content="${found?.page.meta.sentence ?? title}" />
        <link rel="canonical" href="${`/public/${encodeURIComponent(name)}`}" />
        <link rel="alternate" type="application/atom+xml" href="${fileOf(shown, "atom")}" />
        <style>
          ${new Html(STYLE)}
        </style>
      </head>
      <body>
        <main>
          <h1>${title}</h1>
          ${form(shown)} ${refused.map((each) => html`<p class="refused" role="alert">${each}</p>`)}
          ${found === null ? null : records(shown, found.prepared, found.page)}
        </main>
      </body>
    </html>`;
  return page.text.replace(/\n\s+/g, "\n");
}

const STYLE = `
:root { color-scheme: light dark; --line: color-mix(in srgb, currentColor 20%, transparent); }
body { font: 1rem/1.5 Georgia, serif; margin: 0; }
main { max-width: 72rem; margin: 0 auto; padding: 1.5rem 1rem 3rem; }
h1 { font-size: 1.8rem; font-weight: normal; margin: 0 0 1rem; }
form { display: flex; flex-wrap: wrap; gap: .75rem 1rem; align-items: end; margin-bottom: 1rem; }
label { display: flex; flex-direction: column; font-size: .9rem; }
input, select, button { font: inherit; padding: .3rem .5rem; box-sizing: border-box; height: 2.3rem; }
table { border-collapse: collapse; width: 100%; font-variant-numeric: tabular-nums; }
.scroll { overflow-x: auto; }
th, td { text-align: start; vertical-align: top; padding: .35rem 1rem .35rem 0; border-bottom: 1px solid var(--line); }
.refused { border-inline-start: 4px solid #b3261e; padding-inline-start: .75rem; }
nav { display: flex; flex-wrap: wrap; gap: 1rem; margin-top: 1rem; }
@media print { form, nav { display: none; } main { max-width: none; padding: 0; } }
`;

/** The address of the same records in another format. */
function fileOf({ listing, sent }: ShownListing, format: string): string {
  const query = queryOf(without(sent, ["cursor", "size", "page"]));
  return `/v1/listings/${encodeURIComponent(listing.declaration.name)}/records.${format}${query}`;
}

function queryOf(sent: SentParameters): string {
  const text = new URLSearchParams(
    [...sent].flatMap(([name, values]) => values.map((value): [string, string] => [name, value])),
  ).toString();
  return text === "" ? "" : `?${text}`;
}

function without(sent: SentParameters, names: readonly string[]): SentParameters {
  return new Map([...sent].filter(([name]) => !names.includes(name)));
}

function form({ listing, sent }: ShownListing): Html | null {
  const { parameters } = listing.declaration;
  if (parameters.length === 0) return null;
  const own = new Set([...parameters.map(({ name }) => name), "cursor", "page"]);
  const kept = [...without(sent, [...own])].flatMap(([name, values]) =>
    values.map((value) => html`<input type="hidden" name="${name}" value="${value}" />`),
  );
  return html`<form method="get">
    ${parameters.map((each) => field(each, sent.get(each.name) ?? []))} ${kept}
    <button type="submit">Show</button>
  </form>`;
}

function field(parameter: ParameterDeclaration, values: readonly string[]): Html {
  const { name, label = name, type } = parameter;
  if (type === "boolean") return choice(name, label, ["yes", "no"], values);
  const offered = takesDates(parameter) ? [] : (parameter.values ?? []);
  if (type === "oneOf" && offered.length > 0) return choice(name, label, offered, values);
  const example = parameter.example ?? (takesDates(parameter) ? "2025-02 or 2025-02-28" : "");
  return html`<label>
    ${label}
    <input name="${name}" value="${values[0] ?? ""}" placeholder="${example}" />
  </label>`;
}

function choice(
  name: string,
  label: string,
  offered: readonly string[],
  values: readonly string[],
): Html {
  return html`<label>
    ${label}
    <select name="${name}">
      <option value="">any</option>
      ${offered.map((each) =>
        values.includes(each)
          ? html`<option selected>${each}</option>`
          : html`<option>${each}</option>`,
      )}
    </select>
  </label>`;
}

function records(shown: ShownListing, prepared: PreparedRequest, page: RecordsPage): Html {
  const { listing } = prepared;
  const { labels = {} } = listing.declaration;
  const columns = prepared.shown;
  return html`<p>${page.meta.sentence}</p>
    <p>${countOf(page)}</p>
    ${page.meta.notices.map(({ message }) => html`<p>${message}</p>`)}
    <div class="scroll">
      <table>
        <thead>
          <tr>
            ${columns.map((name) => html`<th scope="col">${labels[name] ?? name}</th>`)}
          </tr>
        </thead>
        <tbody>
          ${page.records.map(
            (record) =>
              html`<tr>
                ${columns.map((name) => html`<td>${cell(record, name, page)}</td>`)}
              </tr>`,
          )}
        </tbody>
      </table>
    </div>
    ${links(shown, page)}`;
}

function countOf({ records, meta }: RecordsPage): string {
  const { total, totalExact } = meta;
  const shown = records.length.toLocaleString("en");
  if (total === null) return `${shown} records shown`;
  const of = `${totalExact ? "" : "more than "}${total.toLocaleString("en")}`;
  return totalExact && total === records.length ? `${of} records` : `${shown} of ${of} records`;
}

/** A value as people see it; what could not be read as it came. */
function cell(record: RecordAnswer, name: string, { meta }: RecordsPage): string {
  const id = String(record.id);
  const value = meta.unreadable[id]?.[name] ?? meta.display?.[id]?.[name] ?? record[name] ?? null;
  if (value === null) return "";
  if (typeof value === "boolean") return value ? "yes" : "no";
  return String(value);
}

function links(shown: ShownListing, { next, previous }: RecordsPage): Html {
  const to = (cursor: string) =>
    queryOf(new Map([...without(shown.sent, ["cursor", "page"]), ["cursor", [cursor]]]));
  return html`<nav aria-label="Pages and files">
    ${previous === null ? null : html`<a rel="prev" href="${to(previous)}">Previous</a>`}
    ${next === null ? null : html`<a rel="next" href="${to(next)}">Next</a>`}
    <a href="${fileOf(shown, "csv")}">CSV</a>
    <a href="${fileOf(shown, "ics")}">Calendar</a>
    <a href="${fileOf(shown, "atom")}">Feed</a>
  </nav>`;
}
