import { expect, test } from "@jest/globals";
import { whileRead } from "../../../test/held.js";
import { slowly } from "../../../test/slow.js";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests(async ({ running: { client, login } }) => {
  await client.declareListing("by-cost", {
    source: "works",
    mainDate: "raised",
    parameters: [{ name: "cost", type: "integer", column: "cost", comparison: "is" }],
  });
  await slowly(login, () => client.records("by-cost", { cost: "500" }));
});

test("an index is cancelled while it is made, and proposed again", async () => {
  const { page, url, running } = opened;
  // What stands in the place of a button that is gone has the focus.
  const focused = () => page.evaluate(() => document.activeElement?.textContent);
  await whileRead(running.login, async () => {
    await page.goto(`${url}/sources/works`);
    await page.getByRole("button", { name: "Make the index on cost and raised" }).click();
    await page.getByLabel("Making the index on cost and raised").waitFor();
    expect(await focused()).toBe("Cancel");
    await page.getByRole("button", { name: "Cancel", exact: true }).click();
    await page.getByText("Nothing was stored.").waitFor();
  });
  await page.getByRole("button", { name: "Make the index on cost and raised" }).waitFor();
  expect(await focused()).toBe("Make the index on cost and raised");
});

test("an index that would have served is proposed with its cost, made in one act, and deleted", async () => {
  const { page, url } = opened;
  await page.goto(`${url}/sources/works`);
  await page.getByText(/An index on cost and raised would serve them; it takes about/).waitFor();
  await page.getByRole("button", { name: "Make the index on cost and raised" }).click();
  await page.getByText("cost, raised", { exact: true }).waitFor();
  expect(await page.getByText(/would serve them/).count()).toBe(0);
  await page.getByRole("button", { name: "Delete the index" }).click();
  await page.getByText("cost, raised", { exact: true }).waitFor({ state: "detached" });
  expect(await page.getByRole("region", { name: "Indexes" }).innerText()).toContain("raised");
});
