import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { Validator } from "@seriousme/openapi-schema-validator";
import { CALLS } from "@orisma/contract";
import { Ajv2020 } from "ajv/dist/2020.js";
import type { Router } from "express";
import { startTestService, type TestService } from "../../../test/service.js";
import { importWorks } from "../../../test/works.js";
import { accessRoutes } from "../src/access/index.js";
import { attachedRoutes } from "../src/attached/index.js";
import { calendarRoutes } from "../src/calendars/index.js";
import { dateRoutes } from "../src/dates/index.js";
import { filterRoutes } from "../src/filters/index.js";
import { deliveryRoutes } from "../src/deliveries/index.js";
import { editRoutes } from "../src/edits/index.js";
import { feedRoutes } from "../src/feeds/index.js";
import { viewRoutes } from "../src/views/index.js";
import { pageRoutes } from "../src/pages/index.js";
import { listingRoutes, schemaRoutes } from "../src/listings/index.js";
import { openApiRoutes } from "../src/openapi/index.js";
import { recordRoutes } from "../src/records/index.js";
import { importRoutes } from "../src/imports/index.js";
import { sourceRoutes } from "../src/sources/index.js";
import { healthRoutes, metricsRoutes } from "../src/system/index.js";
import { windowRoutes } from "../src/windows/index.js";
import { auditRoutes } from "../src/audit/index.js";
import { upkeepRoutes } from "../src/upkeep/index.js";

interface Document {
  readonly openapi: string;
  readonly tags: readonly { readonly name: string }[];
  readonly paths: Readonly<Record<string, Readonly<Record<string, OperationObject>>>>;
  readonly components: { readonly schemas: Readonly<Record<string, object>> };
}
interface OperationObject {
  readonly operationId: string;
  readonly parameters?: readonly { readonly name: string; readonly schema: object }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, Content>> };
  readonly responses: Readonly<
    Record<string, { readonly $ref?: string; readonly content?: Readonly<Record<string, Content>> }>
  >;
}
interface Content {
  readonly schema?: object;
  readonly example?: unknown;
}

let running: TestService;
let owners: Document;
beforeAll(async () => {
  running = await startTestService({ now: () => Date.UTC(2025, 1, 15, 12) });
  const { client } = running;
  await importWorks(client);
  await client.declareListing("works-values", {
    source: "works",
    zone: "Europe/London",
    mainDate: "raised",
    derived: { age: { kind: "days", from: "raised", to: "now" } },
    labels: { age: "Days old" },
    filter: { columns: "all" },
    page: { numbered: true },
    parameters: [
      {
        name: "day",
        type: "date",
        column: "raised",
        comparison: "on",
        label: "Raised on",
        accepts: { encoding: "text", patterns: ["dd/MM/yyyy"] },
        fields: { year: "year", month: "month" },
      },
      { name: "note", type: "oneOf", column: "note", comparison: "is", values: ["blank", "soon"] },
      { name: "notes", type: "several", column: "note", comparison: "among" },
      { name: "cost", type: "range", column: "cost", comparison: "within", default: "0/5000" },
      { name: "least", type: "decimal", column: "cost", comparison: "atLeast", example: "12.5" },
    ],
  });
  await client.declareListing("wants", {
    source: "works",
    mainDate: "raised",
    parameters: [
      { name: "from", type: "date", column: "raised", comparison: "from", required: true },
    ],
  });
  owners = await documentFor(running.service.key);
});
afterAll(() => running.end());

async function documentFor(key: string): Promise<Document> {
  const headers = { authorization: `Bearer ${key}` };
  const response = await fetch(`${running.service.url}/openapi.json`, { headers });
  expect(response.status).toBe(200);
  return (await response.json()) as Document;
}

/** What holds values against a schema of the document. */
function checker(document: Document) {
  const ajv = new Ajv2020({ strict: false, validateFormats: false });
  const text = JSON.stringify(document).replaceAll("#/components/schemas/", "shapes#/$defs/");
  const { components } = JSON.parse(text) as Document;
  ajv.addSchema({ $id: "shapes", $defs: components.schemas });
  return (schema: object, value: unknown): unknown => {
    const own = JSON.stringify(schema).replaceAll("#/components/schemas/", "shapes#/$defs/");
    const takes = ajv.compile(JSON.parse(own) as object);
    return takes(value) ? null : takes.errors;
  };
}

function operationOf(document: Document, method: string, path: string): OperationObject {
  const found = document.paths[path]?.[method];
  if (found === undefined) throw new Error(`${method} ${path} is not described`);
  return found;
}

test("the description is valid for every role, as another validator sees it", async () => {
  const { client, service } = running;
  const { key: author } = await client.createKey({ name: "makes", role: "author" });
  const { key: reader } = await client.createKey({ name: "reads", role: "reader" });
  for (const key of [service.key, author, reader]) {
    const found = await new Validator().validate((await documentFor(key)) as never);
    expect([found.valid, found.errors]).toEqual([true, undefined]);
  }
});

test("every call of the contract is served, and nothing else", () => {
  const none = {} as never;
  const nothing = () => undefined;
  const routers: readonly Router[] = [
    recordRoutes(none, none, none, none, none),
    importRoutes(none),
    calendarRoutes(none, nothing),
    accessRoutes({} as never),
    auditRoutes(none),
    upkeepRoutes(none, none),
    attachedRoutes(none, nothing),
    dateRoutes(),
    windowRoutes(none),
    filterRoutes(none),
    sourceRoutes(none, none, nothing),
    listingRoutes(none, none),
    editRoutes({} as never),
    deliveryRoutes(none, none),
    feedRoutes({} as never),
    viewRoutes({} as never),
    pageRoutes(none, none, none),
    healthRoutes(none, none, () => false),
    metricsRoutes(none),
    schemaRoutes(),
    openApiRoutes(none, none, () => 0),
  ];
  const served = routers.flatMap(callsOf);
  expect(served.length).toBeGreaterThan(60);
  expect([...served].sort()).toEqual(Object.keys(CALLS).sort());
});

function callsOf(router: Router): readonly string[] {
  return router.stack.flatMap(({ route }) => {
    if (route === undefined) return [];
    const path = route.path.replace(/:(\w+)/g, "{$1}");
    const methods = new Set(route.stack.map(({ method }) => method));
    return [...methods].map((method) => `${method.toUpperCase()} ${path}`);
  });
}

test("calls have names of their own, and parameters of a path are described", () => {
  const all = Object.entries(owners.paths).flatMap(([path, methods]) =>
    Object.values(methods).map((operation) => ({ path, operation })),
  );
  const ids = all.map(({ operation }) => operation.operationId);
  expect(new Set(ids).size).toBe(ids.length);
  for (const { path, operation } of all) {
    const names = (operation.parameters ?? []).map(({ name }) => name);
    for (const [, name = ""] of path.matchAll(/\{(\w+)\}/g)) expect(names).toContain(name);
  }
});

describe("a listing", () => {
  const path = "/v1/listings/works-values/records";

  test("has the parameters that it declares, each with what it takes", () => {
    const { parameters = [] } = operationOf(owners, "get", path);
    const named = Object.fromEntries(parameters.map((each) => [each.name, each]));
    expect(named).toMatchObject({
      day: { description: expect.stringContaining("dd/MM/yyyy"), schema: { type: "string" } },
      year: { schema: { type: "integer" } },
      month: {},
      "day.blank": { schema: { enum: ["exclude", "include", "only"], default: "exclude" } },
      note: { schema: { enum: ["blank", "soon"] } },
      notes: { schema: { type: "array" }, style: "form", explode: true },
      cost: { schema: { default: "0/5000" } },
      least: { example: "12.5", schema: { type: "number" } },
      filter: {},
      page: { schema: { minimum: 1 } },
      order: { schema: { items: { enum: ["raised", "-raised"] } } },
      asOf: {},
      size: { schema: { maximum: 500 } },
      with: { explode: false },
    });
    expect(named).not.toHaveProperty("rows");
  });

  test("has records of its own columns, and an example that was really requested", async () => {
    const content = operationOf(owners, "get", path).responses["200"]?.content ?? {};
    const { schema = {}, example } = content["application/json"] ?? {};
    const check = checker(owners);
    const requested = await running.client.records("works-values", { size: "1" });
    expect((example as typeof requested).records).toEqual(requested.records);
    expect(check(schema, example)).toBeNull();
    const all = await running.client.records("works-values", {
      cost: "..",
      with: "unfiltered,extent,days",
    });
    expect(all.records.length).toBe(10);
    expect(check(schema, all)).toBeNull();
    const wrong = { ...all, records: [{ ...all.records[0], raised: 5 }] };
    expect(check(schema, wrong)).not.toBeNull();
    expect(JSON.stringify(schema)).toContain("Days old");
  });

  test("has no example where something must be given", () => {
    const { parameters = [], responses } = operationOf(owners, "get", "/v1/listings/wants/records");
    expect(parameters.find(({ name }) => name === "from")).toMatchObject({ required: true });
    expect(responses["200"]?.content?.["application/json"]).not.toHaveProperty("example");
  });
});

test("what is answered has the shape that is described", async () => {
  const { client } = running;
  const check = checker(owners);
  const answers: readonly (readonly [string, string, unknown])[] = [
    [
      "get",
      "/v1/listings/works-values/choices/{column}",
      await client.choices("works-raised", "note"),
    ],
    ["get", "/v1/listings/works-values/extent", await client.extent("works-raised")],
    ["get", "/v1/listings/works-values/timeline", await client.timeline("works-raised")],
    [
      "get",
      "/v1/listings/works-values/summary",
      await client.summary("works-raised", { by: ["note", "raised:month"], measure: "sum:cost" }),
    ],
    ["get", "/v1/listings/{name}/explain", await client.explain("works-raised", { from: "2026" })],
    ["get", "/v1/listings", { listings: await client.listings() }],
    ["get", "/v1/listings/{name}", await client.listing("works-values")],
    ["get", "/v1/listings/{name}/versions", { versions: await client.listingVersions("wants") }],
    ["get", "/v1/listings/{name}/windows", { kinds: await client.allowedWindows("wants") }],
    [
      "post",
      "/v1/listings/{name}/compare",
      await client.compare("works-raised", { before: {}, after: { from: "2025-02" } }),
    ],
    [
      "post",
      "/v1/listings/{name}/counts",
      { counts: await client.counts("works-raised", [{}, { from: "2025-02-30" }]) },
    ],
    ["get", "/v1/sources", { sources: await client.sources() }],
    ["get", "/v1/sources/{name}/profile", await client.profile("works")],
    ["get", "/v1/sources/{name}/records/{id}", await client.inspectRecord("works", "W-10")],
    ["get", "/v1/sources/{name}/imports", await client.imports("works")],
    ["get", "/v1/windows", { windows: await client.namedWindows() }],
    ["get", "/v1/keys", { keys: await client.keys() }],
  ];
  for (const [method, path, answer] of answers) {
    const content = operationOf(owners, method, path).responses["200"]?.content ?? {};
    expect([path, check(content["application/json"]?.schema ?? {}, answer)]).toEqual([path, null]);
  }
});

test("examples of what is sent are taken, and come to what is shown", async () => {
  const check = checker(owners);
  let count = 0;
  for (const path of ["/v1/windows/resolve", "/v1/dates/read", "/v1/filters/translate"]) {
    const { requestBody, responses } = operationOf(owners, "post", path);
    const { schema = {}, example: sent } = requestBody?.content["application/json"] ?? {};
    const answer = responses["200"]?.content?.["application/json"];
    const response = await fetch(`${running.service.url}${path}`, {
      method: "POST",
      body: JSON.stringify(sent),
      headers: {
        authorization: `Bearer ${running.service.key}`,
        "content-type": "application/json",
      },
    });
    expect([path, check(schema, sent)]).toEqual([path, null]);
    expect([path, await response.json()]).toEqual([path, answer?.example]);
    expect([path, check(answer?.schema ?? {}, answer?.example)]).toEqual([path, null]);
    count++;
  }
  expect(count).toBe(3);
});

test("a problem has the shape that is described", async () => {
  const response = await fetch(`${running.service.url}/v1/listings/works-raised/records?frm=1`, {
    headers: { authorization: `Bearer ${running.service.key}` },
  });
  const problem = (await response.json()) as { readonly type: string };
  const schema = { $ref: "#/components/schemas/ProblemDocument" };
  expect(checker(owners)(schema, problem)).toBeNull();
  const page = await (await fetch(`${running.service.url}/problems`)).text();
  expect(page).toContain('id="invalid-value"');
  expect(page).toContain('id="parameter.unknown"');
});

describe("a reader of one listing", () => {
  test("is shown that listing alone, and nothing that a reader may not call", async () => {
    const { key } = await running.client.createKey({
      name: "reads one",
      role: "reader",
      listings: ["works-raised"],
    });
    const shown = await documentFor(key);
    const text = JSON.stringify(shown);
    expect(text).not.toContain("works-values");
    expect(text).not.toContain("works-passed");
    expect(Object.keys(shown.paths)).toContain("/v1/listings/works-raised/records");
    for (const path of ["/v1/keys", "/v1/sources", "/v1/listings/{name}/explain"]) {
      expect(shown.paths).not.toHaveProperty([path]);
    }
    expect(Object.keys(shown.paths["/v1/listings/{name}"] ?? {})).toEqual(["get"]);
    const { parameters = [] } = operationOf(shown, "get", "/v1/listings/works-raised/records");
    expect(parameters.map(({ name }) => name)).not.toContain("asOf");
  });

  test("who shows no key, or a wrong one, is shown nothing", async () => {
    expect((await fetch(`${running.service.url}/openapi.json`)).status).toBe(401);
    const headers = { authorization: "Bearer wrong" };
    expect((await fetch(`${running.service.url}/openapi.json`, { headers })).status).toBe(401);
  });
});
