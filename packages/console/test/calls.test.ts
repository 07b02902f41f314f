import { execFileSync } from "node:child_process";
import { runInNewContext } from "node:vm";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { callsOf } from "../src/declare/calls.js";
import { addressOf, commandOf, type Call } from "../src/docs/description.js";
import { valueLine } from "../src/listing/value-line.js";

const SEED = 18_230;
const ORIGIN = "http://127.0.0.1:4400";
const PARAMETERS = [
  { name: "from", type: "date" },
  { name: "note", type: "text" },
  { name: "of", type: "several" },
] as const;

/** Strings that shells, addresses and strings of code read in ways of their own. */
const text = fc.oneof(
  fc.constantFrom("it's", '"a"', "$HOME `id` $(id)", "a\\'b", "a&b=c#d", "é ü", "${key}", "a, b"),
  fc.string({ maxLength: 10, unit: "grapheme-ascii" }),
);

/** What a command gives to each program, by a real shell in which curl only reports what it got. */
function given(commands: readonly string[]): readonly (readonly string[])[] {
  const script = [`curl() { printf '%s\\0' "$@"; printf '\\0\\0'; }`, ...commands].join("\n");
  const out = execFileSync("/bin/sh", ["-c", script], { env: { ORISMA_KEY: "k" } }).toString();
  return out
    .split("\0\0\0")
    .slice(0, -1)
    .map((each) => each.split("\0"));
}

/** What a call in TypeScript asks for, its names bound to what only reports. */
async function asked(code: string): Promise<readonly unknown[]> {
  let found: readonly unknown[] = [];
  const tell = (...values: readonly unknown[]) => {
    found = values;
  };
  class OrismaClient {
    records = tell;
  }
  const body = code.replace("<Listings>", "");
  const script = `(async () => {${body}})()`;
  await (runInNewContext(script, { fetch: tell, OrismaClient, key: "k" }) as Promise<void>);
  return found;
}

describe("calls that are ready to run", () => {
  test("ask for what was typed, by each of the three ways, whatever it is", async () => {
    const typed = fc.record({ from: text, note: text, of: fc.array(text, { maxLength: 3 }) });
    const runs = fc.sample(typed, { seed: SEED, numRuns: 150 }).map(({ from, note, of }) => ({
      wanted: { from: [from], note: [note], of },
      calls: callsOf(ORIGIN, "works", PARAMETERS, { from, note, of: valueLine(of) }),
    }));
    const code = (at: number) => runs.map(({ calls }) => calls[at]?.code ?? "");
    const commands = given(code(0));
    expect(commands).toHaveLength(runs.length);
    for (const [at, { wanted }] of runs.entries()) {
      const values = Object.entries(wanted).map(
        ([name, all]) => [name, all.filter((value) => value !== "")] as const,
      );
      const expected = Object.fromEntries(values.filter(([, all]) => all.length > 0));
      const [address = "", , header] = commands[at] ?? [];
      expect(header).toBe("Authorization: Bearer k");
      const [fetched, options] = await asked(code(1)[at] ?? "");
      expect(fetched).toBe(address);
      expect(options).toEqual({ headers: { Authorization: "Bearer k" } });
      const { searchParams, pathname } = new URL(address);
      expect(pathname).toBe("/v1/listings/works/records");
      const names = [...new Set(searchParams.keys())];
      expect(Object.fromEntries(names.map((name) => [name, searchParams.getAll(name)]))).toEqual(
        expected,
      );
      const [listing, sent = {}] = await asked(code(2)[at] ?? "");
      expect(listing).toBe("works");
      const single = Object.entries(expected).map(([name, all]) => [
        name,
        all.length === 1 ? all[0] : all,
      ]);
      expect(sent).toEqual(Object.fromEntries(single));
    }
  });

  test("are of the service's own description too, bodies and all", () => {
    const call: Call = {
      method: "post",
      path: "/v1/listings/{name}/records",
      operationId: "ask",
      tags: [],
      summary: "",
      responses: {},
      parameters: [
        { name: "name", in: "path", description: "", schema: { type: "string" } },
        { name: "order", in: "query", description: "", schema: { type: "string" } },
        { name: "columns", in: "query", description: "", explode: true, schema: { type: "array" } },
        { name: "more", in: "query", description: "", schema: { type: "object" } },
      ],
    };
    const values = { name: "a/b", order: " ", columns: "ref, note", more: "from=2025-02&to=..\t" };
    const address = addressOf(call, values);
    expect(address).toBe(
      "/v1/listings/a%2Fb/records?columns=ref&columns=note&from=2025-02&to=..%09",
    );
    const body = `{"note": "it's"}`;
    const [arguments_] = given([commandOf("post", `${ORIGIN}${address}`, body)]);
    expect(arguments_).toEqual([
      "-X",
      "POST",
      `${ORIGIN}${address}`,
      "-H",
      "Authorization: Bearer k",
      "-H",
      "Content-Type: application/json",
      "-d",
      body,
    ]);
  });
});
