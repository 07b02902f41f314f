import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import { openConsole, type OpenConsole } from "./browser.js";

let opened: OpenConsole;
let page: Page;
let url: string;

beforeAll(async () => {
  opened = await openConsole();
  ({ page } = opened);
  ({ url } = opened.running.service);
});
afterEach(() => {
  expect(opened.errors.splice(0)).toEqual([]);
});
afterAll(() => opened.end());

describe("access", () => {
  test("makes a key for one listing, with which a person reads that one alone", async () => {
    await page.goto(`${url}/access`);
    await page.getByLabel("What it is for").fill("the lock keepers' desk");
    await page.getByLabel("works-raised").check();
    await page.getByLabel("Last day, forever unless given").fill("2099-12-31");
    await page.keyboard.press("Enter");
    const told = page.getByRole("status").filter({ hasText: "shown this once" });
    const key = await told.locator("code").innerText();
    const row = page.getByRole("row", { name: "the lock keepers' desk" });
    expect(await row.innerText()).toMatch(/reader\s+works-raised\s.*\snever\s.*2099/s);
    await page.getByRole("button", { name: "Sign out" }).click();
    await page.getByLabel("Sign-in code or key").fill(key);
    await page.keyboard.press("Enter");
    await page.getByText("You are signed in as a reader").waitFor();
    await page.getByRole("link", { name: "Listings" }).click();
    await page.getByRole("link", { name: "Works raised" }).waitFor();
    expect(await page.getByRole("link", { name: "works-passed" }).count()).toBe(0);
    expect(await page.getByRole("link", { name: "Sources" }).count()).toBe(0);
    await page.getByRole("link", { name: "Works raised" }).click();
    await page.getByText("10 of 10 records").waitFor();
    expect(await page.getByText("How this was understood").count()).toBe(0);
    expect(await page.getByText("As it is on another day").count()).toBe(0);
    await page.goto(`${url}/listings/works-passed`);
    await page.getByText("This listing cannot be shown").waitFor();
    await page.goto(`${url}/access`);
    await page.getByText("You are signed in as a reader").waitFor();
    await page.getByText("Only of works-raised.").waitFor();
    expect(await page.getByRole("heading", { name: "A new key" }).count()).toBe(0);
  });

  test("revokes a key in two acts, and whoever shows it is out at once", async () => {
    const { client, service } = opened.running;
    await page.goto(`${url}/access`);
    await page.getByRole("button", { name: "Sign out" }).click();
    await page.getByLabel("Sign-in code").fill(service.createCode());
    await page.keyboard.press("Enter");
    await page.getByRole("heading", { name: "You are signed in as the owner" }).waitFor();
    const { key } = await client.createKey({ name: "passing", role: "reader" });
    await page.reload();
    await page.getByRole("button", { name: "Revoke passing" }).click();
    await page.getByRole("button", { name: "Keep it" }).click();
    await page.getByRole("button", { name: "Revoke passing" }).click();
    await page.keyboard.press("Enter");
    await page.getByRole("row", { name: "passing" }).waitFor({ state: "detached" });
    const headers = { Authorization: `Bearer ${key}` };
    expect((await fetch(`${url}/v1/listings`, { headers })).status).toBe(401);
  });

  test("makes a code that lets another owner in", async () => {
    await page.goto(`${url}/access`);
    await page.getByRole("button", { name: "Make a sign-in code" }).click();
    const code = await page.locator("p code").last().innerText();
    const made = await fetch(`${url}/v1/session`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ code }),
    });
    expect(await made.json()).toMatchObject({ role: "owner" });
  });
});
