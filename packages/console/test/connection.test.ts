import { describe, expect, test } from "@jest/globals";
import type { ConsoleMessage } from "playwright-core";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

describe("a service that is away", () => {
  test("is said on every page, which goes on by itself once it is back", async () => {
    await opened.page.goto(`${opened.url}/listings`);
    await opened.page.getByRole("link", { name: "Works raised" }).waitFor();
    await opened.page.context().setOffline(true);
    await opened.page.getByRole("link", { name: "Sources" }).click();
    await opened.page.getByText("The service does not answer").waitFor();
    await opened.page.getByRole("button", { name: "Try again now" }).waitFor();
    await opened.page.context().setOffline(false);
    await opened.page.getByRole("link", { name: "works", exact: true }).waitFor();
    expect(await opened.page.getByText("The service does not answer").count()).toBe(0);
  });
});

describe("a first visit", () => {
  test("asks who is here, and leaves the log of the browser empty", async () => {
    const { page, url } = opened;
    const logged: string[] = [];
    const log = (message: ConsoleMessage) => logged.push(`${message.type()} ${message.text()}`);
    await page.context().clearCookies();
    page.on("console", log);
    await page.goto(`${url}/listings/works-raised?from=2025-03`);
    await page.getByLabel("Sign-in code or key").fill(opened.running.service.createCode());
    await page.keyboard.press("Enter");
    await page.getByText("1 of 10 records").waitFor();
    page.off("console", log);
    expect(logged).toEqual([]);
    expect(new URL(page.url()).search).toBe("?from=2025-03");
  });
});

describe("a session that ends", () => {
  test("is begun again over the page, which stays as it is with what was typed", async () => {
    await opened.page.goto(`${opened.url}/windows`);
    await opened.page.getByRole("link", { name: "Access" }).waitFor();
    // It ends as the next page asks, not before: a late request of this one would open the dialog.
    await opened.page.route(
      "**/keys*",
      async (route) => {
        await opened.page.context().clearCookies();
        await route.continue();
      },
      { times: 1 },
    );
    await opened.page.getByRole("link", { name: "Access" }).click();
    const dialog = opened.page.getByRole("dialog", { name: "Sign in again" });
    await dialog.waitFor();
    await opened.page.keyboard.press("Escape");
    expect(await dialog.isVisible()).toBe(true);
    await dialog.getByLabel("Sign-in code or key").fill(opened.running.service.createCode());
    await opened.page.keyboard.press("Enter");
    await opened.page.getByRole("heading", { name: "You are signed in as the owner" }).waitFor();
    await dialog.waitFor({ state: "detached" });
    expect(new URL(opened.page.url()).pathname).toBe("/access");
    // What was typed into a form when the session ended is still there.
    const form = opened.page.getByRole("region", { name: "New key" });
    await form.getByLabel("Name").fill("the lock keepers' desk");
    await opened.page.context().clearCookies();
    await form.getByLabel("Name").press("Enter");
    await dialog.waitFor();
    await dialog.getByLabel("Sign-in code or key").fill(opened.running.service.createCode());
    await opened.page.keyboard.press("Enter");
    await dialog.waitFor({ state: "detached" });
    expect(await form.getByLabel("Name").inputValue()).toBe("the lock keepers' desk");
  });
});
