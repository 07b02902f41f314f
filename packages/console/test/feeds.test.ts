import { expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

test("what is found is followed under a private address, until it is revoked", async () => {
  const { page, url } = opened;
  await page.goto(`${url}/listings/works-raised?from=2025-02&to=2025-02`);
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("button", { name: "Calendar and feed" }).click();
  await page.getByLabel("A private address, for").fill("the crew");
  await page.getByRole("button", { name: "Make the address" }).click();
  const address = await page.locator("code").first().innerText();
  expect(address).toMatch(/\/feeds\/[\w-]+\.ics$/);
  const answer = await fetch(address);
  const text = await answer.text();
  expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(4);
  expect(text).toContain("Works raised W-02");
  expect(text).not.toContain("W-01");
  await page.reload();
  await page.getByText(/^read .*: 4 records$/).waitFor();
  expect(await page.locator("code").count()).toBe(0);
  await page.getByRole("button", { name: "Revoke the address" }).click();
  await page.getByText("the crew", { exact: true }).waitFor({ state: "detached" });
  expect((await fetch(address)).status).toBe(404);
});
