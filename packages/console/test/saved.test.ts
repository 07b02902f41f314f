import { expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";
import { requestedPage } from "./requested.js";

const opened = consoleOfTests();
const on = requestedPage(opened);

test("a view is saved as a listing with its conditions bound, and says in what it differs", async () => {
  const { page, url } = opened;
  await page.goto(`${url}/listings/works-raised?from=2025-02&to=2025-02&order=-cost`);
  await on.drawn();
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("button", { name: "Save this view as a listing" }).click();
  await page.getByLabel("Title").fill("Raised in February");
  expect(await page.getByLabel("Name in its address").inputValue()).toBe("raised-in-february");
  await page.getByRole("button", { name: "Save the listing" }).click();
  await page.getByText("from, to cannot be sent").waitFor();
  await page.getByText("in the order -cost").waitFor();
  await page.getByRole("link", { name: "Raised in February" }).click();
  await page.getByRole("heading", { name: /Raised in February/ }).waitFor();
  await on.drawn();
  await page.getByRole("cell", { name: "W-02" }).waitFor();
  expect(await page.getByRole("cell", { name: "W-01" }).count()).toBe(0);
  const { records } = await opened.running.client.records("raised-in-february", { size: "100" });
  expect(records.map(({ id }) => id)).toEqual(["W-02", "W-04", "W-03", "W-05"]);
});

test("a view is saved with its conditions as defaults, and a name that is taken is refused", async () => {
  const { page, url } = opened;
  await page.goto(`${url}/listings/works-raised?from=2025-02&to=2025-02#save`);
  await page.getByLabel("Title").fill("From February");
  await page.getByLabel("Name in its address").fill("works-passed");
  await page.getByLabel("apply until something else is chosen").check();
  await page.getByRole("button", { name: "Save the listing" }).click();
  await page.getByText("There is a listing works-passed already").waitFor();
  await page.getByLabel("Name in its address").fill("from-february");
  await page.getByRole("button", { name: "Save the listing" }).click();
  await page.getByText("from is “2025-02” where nothing is sent").waitFor();
  const { client } = opened.running;
  expect((await client.records("from-february", { size: "100" })).records.length).toBe(4);
  const all = await client.records("from-february", { from: "..", to: "..", size: "100" });
  expect(all.records.length).toBe(10);
});
