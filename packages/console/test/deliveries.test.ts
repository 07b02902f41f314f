import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";
import { requestedPage } from "./requested.js";

const outbox = mkdtempSync(join(tmpdir(), "orisma-console-outbox-"));
const opened = consoleOfTests(undefined, { outbox });
const on = requestedPage(opened);
afterAll(() => rmSync(outbox, { recursive: true, force: true }));

test("what is found is delivered as a file, at once and from then on, until it is ended", async () => {
  const { page, url } = opened;
  await page.goto(`${url}/listings/works-raised?from=2025-02&to=2025-02#deliveries`);
  await on.drawn();
  await page.getByLabel("Deliver what is found now, for").fill("the office");
  await page.getByRole("combobox", { name: "When" }).selectOption("month");
  await page.getByLabel("At (midnight by default)").fill("06:00");
  await page.getByLabel("To a file of the outbox, or a URL").fill("http://127.0.0.1:1/");
  await page.getByRole("button", { name: "Add the delivery" }).click();
  await page.getByText("ORISMA_WEBHOOKS").waitFor();
  await page.getByLabel("To a file of the outbox, or a URL").fill("works.csv");
  await page.getByRole("button", { name: "Add the delivery" }).click();
  const list = page.getByRole("list", { name: "Deliveries" });
  await list.getByText("once a month at 06:00, as csv to works.csv").waitFor();
  await list.getByText("not delivered yet").waitFor();
  expect(existsSync(join(outbox, "works.csv"))).toBe(false);
  await list.getByRole("button", { name: "Deliver now" }).click();
  await list.getByText(/^4 records, /).waitFor();
  expect(readFileSync(join(outbox, "works.csv"), "utf8")).toContain("W-02");
  await list.getByRole("button", { name: "End the delivery" }).click();
  await list.getByRole("listitem").waitFor({ state: "detached" });
  expect(await opened.running.client.deliveries("works-raised")).toEqual([]);
});
