import { afterAll, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import type { NewListing } from "@orisma/client";
import { TestIssuer } from "../../../test/issuer.js";
import { refusal } from "../../../test/refusal.js";
import { startTestService, type TestService } from "../../../test/service.js";

const issuer = new TestIssuer();
let running: TestService;
let now = Date.UTC(2025, 2, 14, 12);
const LISTING: NewListing = {
  source: "works",
  mainDate: "raised",
  fixedFilter: "place = caller('locks')",
  allow: { read: ["group:crew"] },
};

beforeAll(async () => {
  await issuer.listen();
  const { url } = issuer;
  running = await startTestService({
    now: () => now,
    settings: { issuer: { url, clientId: "orisma", clientSecret: "a secret" } },
  });
  const { client } = running;
  const reading = { kind: "date", encoding: "text" } as const;
  const columns = { raised: { type: "date", reading } } as const;
  await client.createSource({ name: "works", key: "work", columns });
  await client.importFile(
    "works",
    "work,raised,place\nW-1,2025-02-10,Tansy\nW-2,2025-02-11,Vale\n",
  );
  await client.declareListing("works", LISTING);
});
beforeEach(() => {
  Object.assign(issuer.answers, { claims: { sub: "1" }, wrong: {}, isForged: false });
});
afterAll(async () => {
  await running.end();
  issuer.close();
});

/** A browser that holds cookies, and follows no redirect by itself. */
class Browser {
  readonly #cookies = new Map<string, string>();

  async get(address: string) {
    const { url } = running.service;
    const answer = await fetch(new URL(address, url), {
      redirect: "manual",
      headers: { Cookie: [...this.#cookies].map((pair) => pair.join("=")).join("; ") },
    });
    for (const cookie of answer.headers.getSetCookie()) {
      const [name = "", value = ""] = cookie.split(";", 1)[0]?.split("=") ?? [];
      if (value === "") this.#cookies.delete(name);
      else this.#cookies.set(name, value);
    }
    const { status, headers } = answer;
    return { status, headers, location: headers.get("Location") ?? "", text: await answer.text() };
  }

  /** Goes to the issuer, and says where that sends it. */
  async leave(to?: string): Promise<string> {
    const query = to === undefined ? "" : `?to=${encodeURIComponent(to)}`;
    const away = await this.get(`/sign-in/issuer${query}`);
    const back = await this.get(away.location);
    return back.location;
  }

  async signIn(claims: Readonly<Record<string, unknown>>, to?: string) {
    issuer.answers.claims = claims;
    return this.get(await this.leave(to));
  }

  async records(): Promise<string> {
    const { status, text } = await this.get("/v1/listings/works/records");
    const { records = [] } = JSON.parse(text) as { records?: { id: string }[] };
    return `${status} ${records.map(({ id }) => id).join(" ")}`;
  }
}

describe("signing in at an issuer", () => {
  test("makes a reader with the groups and claims that the issuer says, each time anew", async () => {
    const maud = new Browser();
    const claims = {
      sub: "m1",
      preferred_username: "Maud Harrow",
      groups: ["crew"],
      locks: ["Tansy"],
    };
    const back = await maud.signIn(claims, "/listings/works?from=2025&to=2026");
    expect([back.status, back.headers.get("Refresh")]).toEqual([
      200,
      "0; url=/listings/works?from=2025&to=2026",
    ]);
    expect(await maud.records()).toBe("200 W-1");
    const [person] = await running.client.people();
    expect(person).toMatchObject({
      name: "Maud Harrow",
      role: "reader",
      groups: ["crew"],
      claims: { locks: ["Tansy"] },
      isOfIssuer: true,
    });
    // Under another name and with other locks it is the same person.
    const again = new Browser();
    await again.signIn({ ...claims, preferred_username: "Maud Fenn", locks: ["Vale", "Tansy"] });
    expect(await again.records()).toBe("200 W-2 W-1");
    expect(await maud.records()).toBe("200 W-2 W-1");
    expect((await running.client.people()).map(({ name }) => name)).toEqual(["Maud Harrow"]);
    await new Browser().signIn({ ...claims, groups: [] });
    expect(await maud.records()).toBe("404 ");
    await running.client.deletePerson("Maud Harrow");
    expect(await maud.records()).toBe("401 ");
  });

  test("is offered, and has no password", async () => {
    const { client, service } = running;
    expect(await client.signInWays()).toEqual({ issuer: new URL(issuer.url).host });
    await new Browser().signIn({ sub: "o1", name: "Otto Fenn" });
    expect(await refusal(client.resetPassword("Otto Fenn"))).toMatchObject({ status: 403 });
    const signIn = (password: string) =>
      fetch(`${service.url}/v1/session`, {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ name: "Otto Fenn", password }),
      });
    expect((await signIn("")).status).toBe(403);
    expect((await signIn("brindle vale 1791")).status).toBe(403);
  });

  test("takes no other person's name, and leads to no other place", async () => {
    await running.client.createPerson({ name: "Ida Pell", role: "owner" });
    const taken = await new Browser().signIn({ sub: "i1", preferred_username: "ida pell" });
    expect([taken.status, taken.text]).toEqual([409, expect.stringContaining("another person")]);
    await running.client.createKey({ name: "Tansy Lock", role: "reader" });
    const key = await new Browser().signIn({ sub: "i2", preferred_username: "tansy lock" });
    expect([key.status, key.text]).toEqual([409, expect.stringContaining("of a key")]);
    for (const name of ["session", "public"]) {
      expect((await new Browser().signIn({ sub: "i3", preferred_username: name })).status).toBe(
        409,
      );
    }
    // Whoever calls themselves as a group is called is in none.
    const grouped = new Browser();
    const claims = { locks: ["Tansy"], preferred_username: "group:crew", name: "Group:Crew" };
    expect((await grouped.signIn({ sub: "i4", ...claims })).status).toBe(200);
    expect(await grouped.records()).toBe("404 ");
    const names = (await running.client.people()).map(({ name }) => name);
    expect(names).toContain("i4");
    for (const to of ["//evil.example", "https://evil.example", '/"><script>', "/a;url=//x", "x"]) {
      const back = await new Browser().signIn({ sub: "u1", name: "Una Reed" }, to);
      expect([back.status, back.headers.get("Refresh")]).toEqual([200, "0; url=/"]);
    }
  });

  test.each([
    ["of another issuer", { iss: "https://other.example" }],
    ["for another client", { aud: "other" }],
    ["that has expired", { exp: 1_000 }],
    ["of another sign-in", { nonce: "other" }],
    ["of nobody", { sub: null }],
  ])("refuses a token %s", async (_what, wrong) => {
    issuer.answers.wrong = wrong;
    const browser = new Browser();
    const back = await browser.signIn({ sub: "w1", name: "Nan Wick" });
    expect(back.status).toBe(403);
    expect(await browser.records()).toBe("401 ");
    issuer.answers.wrong = {};
    expect((await browser.signIn({ sub: "w1", name: "Nan Wick" })).status).toBe(200);
    await running.client.deletePerson("Nan Wick");
  });

  test("refuses a forged token, a code of another browser, one used before, and one that is late", async () => {
    issuer.answers.isForged = true;
    expect((await new Browser().signIn({ sub: "f1", name: "Fay Moor" })).status).toBe(403);
    issuer.answers.isForged = false;
    const [one, other] = [new Browser(), new Browser()];
    const place = await one.leave();
    expect((await other.get(place)).status).toBe(403);
    await other.leave();
    expect((await other.get(place)).status).toBe(403);
    expect((await one.get(place)).status).toBe(200);
    expect((await one.get(place)).status).toBe(403);
    const late = new Browser();
    const back = await late.leave();
    now += 11 * 60_000;
    expect((await late.get(back)).status).toBe(403);
  });

  test("says that the issuer cannot be reached, and tries again the next time", async () => {
    const away = new TestIssuer();
    await away.listen();
    const { url } = away;
    away.close();
    const settings = { issuer: { url, clientId: "orisma", clientSecret: null } };
    const alone = await startTestService({ settings });
    const begin = () => fetch(`${alone.service.url}/sign-in/issuer`, { redirect: "manual" });
    const refused = await begin();
    expect([refused.status, refused.headers.get("Retry-After")]).toEqual([503, "10"]);
    await alone.end();
    const none = await startTestService();
    expect(await (await fetch(`${none.service.url}/v1/sign-in`)).json()).toEqual({ issuer: null });
    expect((await fetch(`${none.service.url}/sign-in/issuer`)).status).toBe(404);
    await none.end();
  });
});
