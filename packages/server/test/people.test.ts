import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

let now = Date.UTC(2025, 2, 14, 12);
let running: TestService;

const FILE =
  "work,raised,place,status\nW-1,2025-02-10,Maud Harrow,open\nW-2,2025-02-11,Otto Fenn,open\n";
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  editable: ["status"],
  actions: { finish: { set: { status: "done" } } },
};

beforeAll(async () => {
  running = await startTestService({
    now: () => now,
    // Each attempt comes from an address of its own, but where a test says otherwise.
    settings: { trustedProxies: ["127.0.0.1"] },
  });
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  await client.createSource({
    name: "works",
    key: "work",
    columns: { raised: { type: "date", reading } },
  });
  await client.importFile("works", FILE);
  await client.declareListing("all", LISTING);
  await client.declareListing("crew", {
    ...LISTING,
    allow: { read: ["group:crew", "Ida Pell"], edit: ["Ida Pell"], act: ["group:crew"] },
  });
  await client.declareListing("own", { ...LISTING, fixedFilter: "place = caller()" });
});
afterAll(() => running.end());

let address = 0;

/** Sends a request, as a browser does that holds cookies. */
class Browser {
  readonly #cookies = new Map<string, string>();
  csrf = "";

  async send(method: string, path: string, body?: unknown, from = `10.1.0.${++address % 250}`) {
    const response = await fetch(`${running.service.url}${path}`, {
      method,
      headers: {
        "X-Forwarded-For": from,
        "X-CSRF-Token": this.csrf,
        Cookie: [...this.#cookies].map((pair) => pair.join("=")).join("; "),
        ...(body === undefined ? {} : { "Content-Type": "application/json", "If-Match": "*" }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [name = "", value = ""] = cookie.split(";", 1)[0]?.split("=") ?? [];
      this.#cookies.set(name, value);
    }
    const text = await response.text();
    const json = text === "" ? {} : (JSON.parse(text) as Record<string, unknown>);
    return { status: response.status, json, headers: response.headers };
  }

  async signIn(name: string, password: string, from?: string) {
    const answer = await this.send("POST", "/v1/session", { name, password }, from);
    if (answer.status === 201) this.csrf = String(answer.json.csrf);
    return answer;
  }

  async records(listing: string) {
    const { status, json } = await this.send("GET", `/v1/listings/${listing}/records`);
    const records = json.records as { id: string }[] | undefined;
    return `${status} ${(records ?? []).map(({ id }) => id).join(" ")}`;
  }
}

const PASSWORD = "brindle vale 1791";

async function person(
  name: string,
  more: {
    groups?: string[];
    listings?: string[];
    claims?: Record<string, string[]>;
  } = {},
) {
  await running.client.createPerson({ name, role: "reader", password: PASSWORD, ...more });
  const browser = new Browser();
  expect(await browser.signIn(name, PASSWORD)).toMatchObject({ status: 201 });
  return browser;
}

describe("a person", () => {
  test("signs in with a name in any letter case, and is the caller of conditions", async () => {
    const maud = await person("Maud Harrow");
    expect(await maud.records("own")).toBe("200 W-1");
    expect(await maud.records("all")).toBe("200 W-2 W-1");
    const session = await maud.send("GET", "/v1/session");
    expect(session.json).toMatchObject({
      role: "reader",
      key: null,
      person: { name: "Maud Harrow", groups: [], listings: null },
    });
    const other = new Browser();
    expect(await other.signIn("maud harrow ", PASSWORD)).toMatchObject({ status: 201 });
    expect(await other.signIn("Maud Harrow", `${PASSWORD} `)).toMatchObject({ status: 403 });
    expect(await maud.send("GET", "/v1/people")).toMatchObject({ status: 403 });
    const wrong = await new Browser().signIn("Nobody", PASSWORD);
    expect(wrong.json.detail).toBe("The name and the password do not belong together");
  });

  test("sees what belongs to what is known of them, and is refused where it is not", async () => {
    const { client } = running;
    const fixedFilter = "place = caller('keeps')";
    await client.declareListing("kept", { ...LISTING, fixedFilter });
    await client.declareListing("others", { ...LISTING, fixedFilter: `NOT (${fixedFilter})` });
    const one = await person("Ede Moss", { claims: { keeps: ["Otto Fenn"] } });
    expect(await one.records("kept")).toBe("200 W-2");
    expect(await one.records("others")).toBe("200 W-1");
    const both = await person("Una Fell", { claims: { keeps: ["Otto Fenn", "Maud Harrow"] } });
    expect(await both.records("kept")).toBe("200 W-2 W-1");
    expect(await both.records("others")).toBe("200 ");
    // Whoever has none is like nothing, and unlike nothing.
    for (const claims of [{}, { constructor: ["x"] }, { Keeps: ["Otto Fenn"] }]) {
      const none = await person(`Nan ${Object.keys(claims).join()}`, { claims });
      expect(await none.records("kept")).toBe("403 ");
      expect(await none.records("others")).toBe("403 ");
    }
    expect(await refusal(client.records("kept"))).toMatchObject({
      status: 403,
      faults: [{ code: "caller.noClaim", message: expect.stringContaining("keeps") }],
    });
    await client.changePerson("Ede Moss", { role: "reader", claims: { keeps: ["Maud Harrow"] } });
    expect(await one.records("kept")).toBe("200 W-1");
    const wrong = { ...LISTING, fixedFilter: "place = caller('a', 'b')" };
    expect(await refusal(client.declareListing("wrong", wrong))).toMatchObject({ status: 422 });
    for (const listing of ["kept", "others"]) await client.deleteListing(listing);
  });

  test("may read, edit and act where the listing names them or their group, and nowhere else", async () => {
    const crew = await person("Otto Fenn", { groups: ["crew"] });
    const ida = await person("Ida Pell");
    const none = await person("crew");
    expect(await crew.records("crew")).toBe("200 W-2 W-1");
    expect(await ida.records("crew")).toBe("200 W-2 W-1");
    expect(await none.records("crew")).toBe("404 ");
    const names = async (browser: Browser) =>
      ((await browser.send("GET", "/v1/listings")).json.listings as { name: string }[]).map(
        ({ name }) => name,
      );
    expect(await names(none)).toEqual(["all", "own"]);
    expect(await names(ida)).toEqual(["all", "crew", "own"]);
    const edit = (browser: Browser) =>
      browser.send("PATCH", "/v1/listings/crew/records/W-1", { values: { status: "held" } });
    const act = (browser: Browser) =>
      browser.send("POST", "/v1/listings/crew/actions/finish", { ids: ["W-1"] });
    expect([(await edit(crew)).status, (await edit(ida)).status]).toEqual([403, 200]);
    expect([(await act(ida)).status, (await act(crew)).status]).toEqual([403, 200]);
    expect((await edit(none)).status).toBe(404);
    const [edited] = await running.client.edits("crew");
    expect(edited).toMatchObject({ by: "Otto Fenn", action: "finish" });
    const rights = async (browser: Browser) =>
      (await browser.send("GET", "/v1/listings/crew")).json.rights;
    expect(await rights(ida)).toEqual({ editable: ["status"], actions: [] });
    // Who else may is nobody's business.
    const declared = JSON.stringify((await ida.send("GET", "/v1/listings/crew")).json);
    expect(declared).not.toContain("group:crew");
    const { key } = await running.client.createKey({ name: "any", role: "reader" });
    const answer = await fetch(`${running.service.url}/v1/listings/crew/records`, {
      headers: { Authorization: `Bearer ${key}` },
    });
    expect(answer.status).toBe(404);
    const kept = { name: "kept", role: "reader", listings: ["crew"] } as const;
    const { key: other } = await running.client.createKey({ ...kept, listings: ["crew"] });
    const named = await fetch(`${running.service.url}/v1/listings/crew/records`, {
      headers: { Authorization: `Bearer ${other}` },
    });
    expect(named.status).toBe(200);
  });

  test("may what the owner says from the next request on, and nothing once deleted", async () => {
    const { client } = running;
    const lou = await person("Lou Marsh", { listings: ["own"] });
    expect(await lou.records("all")).toBe("404 ");
    await client.changePerson("Lou Marsh", { role: "author", groups: [] });
    expect(await lou.records("all")).toBe("200 W-2 W-1");
    expect(await lou.records("crew")).toBe("200 W-2 W-1");
    await client.changePerson("Lou Marsh", { role: "reader", groups: [], listings: ["own"] });
    await client.renameListing("own", { to: "mine" });
    expect(await lou.records("mine")).toBe("200 ");
    expect(await client.people()).toContainEqual(
      expect.objectContaining({ name: "Lou Marsh", listings: ["mine"] }),
    );
    await client.renameListing("mine", { to: "own" });
    await client.deletePerson("lou marsh");
    expect(await lou.records("own")).toBe("401 ");
    expect(await lou.signIn("Lou Marsh", PASSWORD)).toMatchObject({ status: 403 });
  });

  test("changes their password, by which other sessions end; a fresh one is shown once", async () => {
    const first = await person("Ned Alder");
    const second = new Browser();
    await second.signIn("Ned Alder", PASSWORD);
    const change = (current: string, password: string) =>
      first.send("PUT", "/v1/session/password", { current, password });
    expect(await change("not this one", "another password")).toMatchObject({ status: 403 });
    expect(await change(PASSWORD, "short")).toMatchObject({ status: 422 });
    expect(await change(PASSWORD, "another password")).toMatchObject({ status: 204 });
    expect(await second.records("all")).toBe("401 ");
    expect(await first.signIn("Ned Alder", PASSWORD)).toMatchObject({ status: 403 });
    expect(await first.signIn("Ned Alder", "another password")).toMatchObject({ status: 201 });
    const { password } = await running.client.resetPassword("Ned Alder");
    expect(await first.records("all")).toBe("401 ");
    expect(await first.signIn("Ned Alder", password)).toMatchObject({ status: 201 });
    const made = await running.client.createPerson({ name: "Fresh", role: "reader" });
    expect(made.password).toMatch(/^[\w-]{20}$/);
    const text = JSON.stringify(await running.client.people());
    expect(text).not.toMatch(/scrypt|password/);
  });

  test("has a name of their own, and only listings that there are", async () => {
    const { client } = running;
    for (const name of ["group:crew", "Group: crew"]) {
      const group = await refusal(client.createPerson({ name, role: "reader" }));
      expect(group?.detail).toContain("does not begin with group:");
    }
    const taken = refusal(client.createPerson({ name: "MAUD HARROW", role: "reader" }));
    expect(await taken).toMatchObject({ status: 409 });
    const unknown = await refusal(
      client.createPerson({ name: "New", role: "reader", listings: ["alll"] }),
    );
    expect(unknown?.faults[0]).toMatchObject({ nearest: ["all"] });
    const kept = await refusal(
      client.createPerson({ name: "New", role: "author", listings: ["all"] }),
    );
    expect(kept).toMatchObject({ status: 422 });
    expect(await refusal(client.deletePerson("Maud Harow"))).toMatchObject({ status: 404 });
    const both = await refusal(
      client.declareListing("both", { ...LISTING, public: true, allow: { read: ["x"] } }),
    );
    expect(both?.faults[0]).toMatchObject({ path: "allow.read" });
  });
});

test("wrong passwords are counted by account and by address, and lock nobody out who signed in before", async () => {
  const known = await person("Tess Quarry");
  const tries = [];
  for (let attempt = 0; attempt < 11; attempt++) {
    tries.push((await new Browser().signIn("Tess Quarry", `wrong ${attempt}`)).status);
  }
  expect(tries).toEqual([...Array.from({ length: 10 }, () => 403), 429]);
  const refused = await new Browser().signIn("tess quarry", PASSWORD);
  expect(refused.status).toBe(429);
  expect(Number(refused.headers.get("Retry-After"))).toBeGreaterThan(0);
  // Her own browser counts for itself, and other accounts are open.
  expect(await known.signIn("Tess Quarry", PASSWORD)).toMatchObject({ status: 201 });
  expect(await new Browser().signIn("Maud Harrow", PASSWORD)).toMatchObject({ status: 201 });
  now += 15 * 60_000;
  expect(await new Browser().signIn("Tess Quarry", PASSWORD)).toMatchObject({ status: 201 });
  const from = "10.9.9.9";
  const same = [];
  for (let attempt = 0; attempt < 11; attempt++) {
    same.push((await new Browser().signIn(`Somebody ${attempt}`, "wrong", from)).status);
  }
  expect(same.at(-1)).toBe(429);
});

test("a private address of a person ends where they may not read any more", async () => {
  const { client, service } = running;
  const maker = await person("Una Reed", { groups: ["crew"] });
  const body = { name: "hers", parameters: {} };
  const made = await maker.send("POST", "/v1/listings/crew/feeds", body);
  const feed = new URL(String(made.json.feed));
  const read = async () => (await fetch(`${service.url}${feed.pathname}`)).status;
  expect(await read()).toBe(200);
  await client.changePerson("Una Reed", { role: "reader", groups: [] });
  expect(await read()).toBe(404);
  await client.changePerson("Una Reed", { role: "reader", groups: ["crew"] });
  expect(await read()).toBe(200);
  await client.deletePerson("Una Reed");
  expect(await read()).toBe(404);
});
