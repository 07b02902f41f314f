import { describe, expect, test } from "@jest/globals";
import { ASKED, requestedPage } from "./requested.js";
import { consoleOfTests, heldBack } from "./browser.js";

const opened = consoleOfTests(({ running }) => running.client.declareListing("works-asked", ASKED));

describe("what takes long", () => {
  test("shows its seconds, and is stopped and requested again by keyboard", async () => {
    const { page, url } = opened;
    const held = await heldBack(opened.page, "**/v1/listings/works-asked/records?*");
    await page.goto(`${url}/listings/works-asked?from=2025-02`);
    const long = page.getByRole("list", { name: "Slow requests" });
    await long.getByText("Loading the records of").waitFor();
    await long.getByText(/^[1-9] s$/).waitFor();
    await long.getByRole("button", { name: /^Stop: Loading the records/ }).press("Enter");
    await page.getByText("The request was stopped").waitFor();
    expect(await long.count()).toBe(0);
    await held.end();
    await page.getByRole("button", { name: "Try again" }).press("Enter");
    await page.getByRole("table").waitFor();
    expect(await page.getByText("The request was stopped").count()).toBe(0);
  });

  test("leaves whoever is at a clause where they are when the answer comes", async () => {
    const { page, url } = opened;
    const held = await heldBack(opened.page, "**/v1/listings/works-asked/records?*");
    await page.goto(`${url}/listings/works-asked?from=2025-02-01&to=2025-02-28`);
    await page.getByRole("button", { name: "raised 2025-02-01, 2025-02-28", exact: true }).focus();
    await held.end();
    await page.getByRole("table").waitFor();
    expect(await page.evaluate(() => document.activeElement?.textContent)).toBe(
      "raised 1–28 February 2025",
    );
  });

  test("keeps what was there before, and goes on when something else is requested", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/listings/works-asked#summary`);
    await page.getByRole("region", { name: "Figures" }).waitFor();
    const held = await heldBack(opened.page, "**/v1/listings/works-asked/summary?*");
    await page.getByLabel("Rows").selectOption({ index: 1 });
    await page.getByRole("button", { name: "Stop: Summarising" }).click();
    await page.getByText("The request was stopped").waitFor();
    expect(held.asked()).toBe(1);
    await held.end();
    await page.getByLabel("Rows").selectOption({ index: 2 });
    await page.getByText("The request was stopped").waitFor({ state: "detached" });
    await page.getByRole("region", { name: "Figures" }).waitFor();
  });
});

describe("what can only be counted", () => {
  test("is no offer while it is, and one where it cannot be", async () => {
    const { page, url } = opened;
    const held = await heldBack(page, "**/v1/listings/works-asked/counts");
    const requested = requestedPage({ page, url });
    await requested.open("");
    await requested.ask("cost");
    const blank = page.getByRole("button", { name: /^only blank/ });
    const section = page.getByRole("region", { name: "Without a value" });
    await section.waitFor();
    expect(await blank.count()).toBe(0);
    await held.end();
    await page.getByRole("button", { name: "only blank, 1" }).waitFor();
    await page.route("**/v1/listings/works-asked/counts", (route) =>
      route.fulfill({ status: 503 }),
    );
    await requested.open("");
    await requested.ask("cost");
    await section.getByRole("button", { name: "only blank", exact: true }).press("Enter");
    expect(await requested.found(1)).toHaveLength(1);
    await page.unroute("**/v1/listings/works-asked/counts");
  });
});
