import { describe, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

describe("access", () => {
  test("makes a key for one listing, with which a person reads that one alone", async () => {
    await opened.page.goto(`${opened.url}/access`);
    const form = opened.page.getByRole("region", { name: "New key" });
    await form.getByLabel("Name").fill("the lock keepers' desk");
    await form.getByLabel("works-raised").check();
    await form.getByLabel("Last day (never expires by default)").fill("2099-12-31");
    await opened.page.keyboard.press("Enter");
    const answer = opened.page.getByRole("status").filter({ hasText: "shown this once" });
    const [key = "", call = ""] = await answer.locator("code").allInnerTexts();
    expect(call).toBe(
      `curl -H 'Authorization: Bearer ${key}' '${opened.url}/v1/listings/works-raised/records'`,
    );
    const [, authorization = "", address = ""] =
      /-H 'Authorization: ([^']+)' '([^']+)'$/.exec(call) ?? [];
    const called = await fetch(address, { headers: { Authorization: authorization } });
    expect(await called.json()).toMatchObject({ meta: { total: 10 } });
    await opened.page.getByRole("button", { name: "Create another key" }).click();
    await form.getByLabel("Name").waitFor();
    const row = opened.page.getByRole("row", { name: "the lock keepers' desk" });
    expect(await row.innerText()).toMatch(/reader\s+works-raised\s.*\snever\s.*2099/s);
    await opened.page.getByRole("button", { name: "Sign out" }).click();
    await opened.page.getByLabel("Sign-in code or key").fill(key);
    await opened.page.keyboard.press("Enter");
    await opened.page.getByText("You are signed in as a reader").waitFor();
    await opened.page.getByRole("link", { name: "Listings" }).click();
    await opened.page.getByRole("link", { name: "Works raised" }).waitFor();
    expect(await opened.page.getByRole("link", { name: "works-passed" }).count()).toBe(0);
    expect(await opened.page.getByRole("link", { name: "Sources" }).count()).toBe(0);
    await opened.page.getByRole("link", { name: "Works raised" }).click();
    await opened.page.getByText("10 of 10 records").waitFor();
    expect(await opened.page.getByText("Explain").count()).toBe(0);
    expect(await opened.page.getByText("As of another day").count()).toBe(0);
    await opened.page.goto(`${opened.url}/listings/works-raised?from=2031#record`);
    await opened.page.getByRole("list", { name: "Why there is no record" }).waitFor();
    await opened.page.getByLabel("Record, by its order").fill("W-06");
    await opened.page.keyboard.press("Enter");
    await opened.page.getByText("W-06 is out.").waitFor();
    await opened.page.goto(`${opened.url}/listings/works-passed`);
    await opened.page.getByText("This listing cannot be shown").waitFor();
    await opened.page.goto(`${opened.url}/access`);
    await opened.page.getByText("You are signed in as a reader").waitFor();
    await opened.page.getByText("Only of works-raised.").waitFor();
    expect(await opened.page.getByRole("heading", { name: "New key" }).count()).toBe(0);
  });

  test("revokes a key in two acts, and whoever shows it is out at once", async () => {
    const { client, service } = opened.running;
    await opened.page.goto(`${opened.url}/access`);
    await opened.page.getByRole("button", { name: "Sign out" }).click();
    await opened.page.getByLabel("Sign-in code").fill(service.createCode());
    await opened.page.keyboard.press("Enter");
    await opened.page.getByRole("heading", { name: "You are signed in as the owner" }).waitFor();
    const { key } = await client.createKey({ name: "passing", role: "reader" });
    await opened.page.reload();
    await opened.page.getByRole("button", { name: "Revoke passing" }).click();
    await opened.page.getByRole("button", { name: "Cancel" }).click();
    await opened.page.getByRole("button", { name: "Revoke passing" }).click();
    await opened.page.keyboard.press("Enter");
    await opened.page.getByRole("row", { name: "passing" }).waitFor({ state: "detached" });
    const headers = { Authorization: `Bearer ${key}` };
    expect((await fetch(`${opened.url}/v1/listings`, { headers })).status).toBe(401);
  });

  test("makes a code that lets another owner in", async () => {
    await opened.page.goto(`${opened.url}/access`);
    await opened.page.getByRole("button", { name: "Create a sign-in code" }).click();
    const code = await opened.page.locator("p code").last().innerText();
    const signedIn = await fetch(`${opened.url}/v1/session`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ code }),
    });
    expect(await signedIn.json()).toMatchObject({ role: "owner" });
  });
});
