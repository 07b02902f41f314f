import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  DATABASES,
  DIALECTS,
  UTC,
  attachedColumn,
  epochMs,
  isBlankText,
  pageStatement,
  translateFilter,
  type Filter,
} from "@orisma/core/internal";
import { HOSTILE } from "../../../test/hostile.js";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";

let running: TestService;
beforeAll(async () => {
  running = await startTestService();
  await importWorks(running.client);
});
afterAll(() => running.end());

/** Asks for records with the service's own key. */
async function statusOf(parameters: Readonly<Record<string, string>>): Promise<number> {
  const query = new URLSearchParams(parameters).toString();
  const response = await fetch(
    `${running.service.url}/v1/listings/works-compound/records?${query}`,
    { headers: { authorization: `Bearer ${running.service.key}` } },
  );
  await response.arrayBuffer();
  return response.status;
}

/** Of the strings every so many are sent to each of many places. */
const EVERY = Number(process.env.ORISMA_HOSTILE_EVERY ?? 3);

describe(`${HOSTILE.length} hostile strings`, () => {
  test("are a thousand at least", () => {
    expect(HOSTILE.length).toBeGreaterThanOrEqual(1_000);
  });

  test.each(DATABASES)("as values never change a statement for %s", (database) => {
    const attached = attachedColumn("note", {
      value: "note",
      holding: { type: "text" },
      type: { type: "text" },
    });
    if (!attached.ok) throw new Error("the column cannot be queried");
    const table = { table: "works", key: "id", columns: new Map([["note", attached.value]]) };
    const strings = (value: string) =>
      (["inside", "outside"] as const).map((side) => {
        const where = { column: "note", side, caseSensitive: true, blanks: "exclude" } as const;
        const of: Filter[] = [
          { kind: "oneOf", values: [value], ...where },
          { kind: "text", pattern: [{ any: "characters" }, value, { any: "character" }], ...where },
        ];
        const query = {
          filter: { kind: "all" as const, of },
          columns: ["note"],
          order: { column: null, descending: false },
          after: { value: null, key: value },
          limit: 5,
          counts: [],
        };
        return pageStatement(query, table, DIALECTS[database]).text;
      });
    // A text of white space is none of any list, and has a form of its own.
    const [plain, white] = [strings("plain"), strings(" ")];
    for (const value of HOSTILE) {
      expect(strings(value)).toEqual(isBlankText(value) ? white : plain);
    }
  });

  test.each(DATABASES)("as names are quoted whole for %s", (database) => {
    const quote = database === "mariadb" ? "`" : '"';
    for (const name of HOSTILE.filter((each) => !each.includes("\0"))) {
      const translated = translateFilter(
        {
          database,
          table: name,
          key: "id",
          columns: { id: { type: { type: "integer" } }, [name]: { type: { type: "integer" } } },
          filter: { op: ">", args: [{ property: name }, 5] },
          limit: 5,
          order: ["id"],
        },
        { asOf: epochMs(0), zone: UTC },
      );
      if (!translated.ok) continue;
      const quoted = quote + name.replaceAll(quote, quote + quote) + quote;
      const { count } = translated.value;
      const text = count.text.replaceAll(quoted, "NAME").replace(/\$\d+|\?/g, "VALUE");
      expect([name, text.replace(/["`]n["`]/, "n")]).toEqual([
        name,
        "SELECT COUNT(*) AS n FROM NAME WHERE NAME > CAST(VALUE AS " +
          `${{ mariadb: "DECIMAL(65,30)", postgresql: "NUMERIC", sqlite: "NUMERIC" }[database]})`,
      ]);
    }
  });

  test.each(["on", "order", "filter", "cursor", "size"])(
    "as the parameter %s are answered or refused, and never a fault of the service",
    async (parameter) => {
      await running.client.declareListing("works-compound", {
        source: "works",
        zone: "Europe/London",
        mainDate: "raised",
        parameters: [{ name: "on", column: "raised", type: "window", comparison: "on" }],
        order: { allowed: ["raised"], default: "raised" },
        filter: { columns: ["raised", "note"] },
      });
      const statuses = new Map<number, number>();
      const of =
        parameter === "filter" ? (text: string) => `note = '${text}'` : (text: string) => text;
      for (let from = 0; from < HOSTILE.length; from += 20) {
        const found = await Promise.all(
          HOSTILE.slice(from, from + 20).map((text) => statusOf({ [parameter]: of(text) })),
        );
        for (const status of found) statuses.set(status, (statuses.get(status) ?? 0) + 1);
      }
      const others = [...statuses.keys()].filter(
        (status) => ![200, 400, 422, 431].includes(status),
      );
      expect(others).toEqual([]);
      expect(statuses.get(422) ?? 0).toBeGreaterThan(100);
    },
  );

  describe("in what is requested around records", () => {
    beforeAll(async () => {
      const { client } = running;
      const text = { column: "note", comparison: "is" } as const;
      const number = { column: "cost", comparison: "is" } as const;
      await client.declareListing("works-values", {
        source: "works",
        mainDate: "raised",
        parameters: [
          { name: "text", type: "text", ...text },
          { name: "one", type: "oneOf", ...text },
          { name: "many", type: "several", column: "note", comparison: "among" },
          { name: "find", type: "search", columns: ["note"], comparison: "contains" },
          { name: "whole", type: "integer", ...number },
          { name: "exact", type: "decimal", ...number },
          { name: "range", type: "range", column: "cost", comparison: "within" },
        ],
        order: { allowed: ["raised", "note"], default: "note" },
        page: { numbered: true },
      });
    });

    const NAMES = [
      "text",
      "one",
      "many",
      "find",
      "whole",
      "exact",
      "range",
      "columns",
      "page",
      "with",
      "format",
    ];
    test.each<[string, (text: string) => string]>([
      ...NAMES.map((name): [string, (text: string) => string] => [
        `records?${name}=`,
        (text) => `records?${name}=${text}`,
      ]),
      ["records/", (text) => `records/${text === "" ? "-" : text}`],
      ["choices/", (text) => `choices/${text === "" ? "-" : text}`],
      ["choices/note?search=", (text) => `choices/note?search=${text}`],
      ["choices/cost?search=", (text) => `choices/cost?search=${text}`],
      ["choices/note?limit=", (text) => `choices/note?limit=${text}`],
      ["timeline?unit=", (text) => `timeline?unit=${text}`],
      ["summary?by=", (text) => `summary?by=${text}`],
      ["summary?by=note&measure=", (text) => `summary?by=note&measure=${text}`],
    ])("%s is answered or refused, and never a fault of the service", async (_, pathOf) => {
      const headers = { authorization: `Bearer ${running.service.key}` };
      const others = new Set<string>();
      const some = HOSTILE.filter((_text, index) => index % EVERY === 0);
      for (let from = 0; from < some.length; from += 20) {
        await Promise.all(
          some.slice(from, from + 20).map(async (text) => {
            const path = pathOf(encodeURIComponent(Buffer.from(text).toString()));
            const url = `${running.service.url}/v1/listings/works-values/${path}`;
            const response = await fetch(url, { headers });
            await response.arrayBuffer();
            if (![200, 400, 404, 422, 431].includes(response.status)) {
              others.add(`${response.status} ${path.slice(0, 200)}`);
            }
          }),
        );
      }
      expect([...others]).toEqual([]);
    });
  });
});
