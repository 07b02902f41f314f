import { expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";
import { requestedPage } from "./requested.js";

const opened = consoleOfTests();
const on = requestedPage(opened);

test("a default is set for a time, shown with who set it where it applies, and removed again", async () => {
  const { page, url, running } = opened;
  await page.goto(`${url}/listings/works-raised#overrides`);
  await on.drawn();
  await page.getByLabel("Parameter").selectOption("from");
  await page.getByLabel("Value where nothing is sent").fill("soon");
  await page.getByLabel("Reason").fill("Stoppage");
  await page.getByRole("button", { name: "Set the default" }).click();
  await page.getByText("The default was not set").waitFor();
  expect((await running.client.records("works-raised")).meta.notices).toEqual([]);
  await page.getByLabel("Value where nothing is sent").fill("2025-03");
  await page.getByRole("button", { name: "Set the default" }).click();
  await page.getByText("From is “2025-03” by default, set by session: Stoppage.").waitFor();
  await page.getByText("1 of 10 records", { exact: true }).waitFor();
  const list = page.getByRole("list", { name: "Defaults that were set" });
  await list.getByText("from: 2025-03").waitFor();
  await list.getByRole("button", { name: "Remove" }).click();
  await page.getByText("10 of 10 records", { exact: true }).waitFor();
  expect(await list.getByRole("listitem").count()).toBe(0);
});
