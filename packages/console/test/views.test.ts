import { describe, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";
import { ASKED, requestedPage } from "./requested.js";

const opened = consoleOfTests(async ({ running }) => {
  await running.client.declareListing("works-asked", ASKED);
});
const on = requestedPage(opened);
const all = () => opened.page.getByRole("cell", { name: "W-01", exact: true }).waitFor();
const menu = (name: string | RegExp) => opened.page.getByRole("button", { name });

describe("one's own views", () => {
  test("a view is kept under a name, and opened with two presses, columns and order too", async () => {
    await on.open("?from=2025-02&to=2025-02&order=-cost&columns=cost");
    await on.found(4);
    await menu("Views").click();
    await opened.page.getByRole("button", { name: "Keep this view…" }).click();
    await opened.page.getByLabel("Keep what is shown now as").fill("February, dearest first");
    await opened.page.keyboard.press("Enter");
    await opened.page.getByText("kept as “February, dearest first”").waitFor();
    await on.open("");
    await all();
    await menu("Views").click();
    await opened.page.getByRole("link", { name: "February, dearest first" }).click();
    await menu("View: February, dearest first").waitFor();
    expect(await on.found(4)).toContain("2000");
    expect(new URL(opened.page.url()).searchParams.get("columns")).toBe("cost");
  });

  test("the one that a listing opens with is there at once, and everything with two presses", async () => {
    const { page, url } = opened;
    await on.open("#views");
    const opens = { name: "The listing opens with February, dearest first" };
    await page.getByRole("checkbox", opens).press(" ");
    await page.getByRole("checkbox", { ...opens, checked: true }).waitFor();
    // What the address says counts before it.
    await page.goto(`${url}/listings/works-asked?from=2025-03&to=2025-03`);
    expect(await on.found(1)).toEqual(["W-06"]);
    await page.goto(`${url}/listings/works-asked`);
    expect(await on.found(4)).toContain("2000");
    expect(new URL(page.url()).searchParams.get("from")).toBe("2025-02");
    await menu("View: February, dearest first").click();
    await page.getByRole("link", { name: "Everything" }).click();
    await all();
    expect(new URL(page.url()).search).toBe("");
  });

  test("what was looked at lately is there in words, and by name in the palette", async () => {
    const { page } = opened;
    await on.open("?from=2025-03&to=2025-03");
    await on.found(1);
    await on.open("?order=-cost");
    await all();
    await menu("Views").click();
    await page.getByRole("link", { name: /March 2025/ }).click();
    expect(await on.found(1)).toEqual(["W-06"]);
    await page.keyboard.press("Control+k");
    await page.getByLabel("Search commands").last().fill("view february");
    await page.keyboard.press("Enter");
    expect(await on.found(4)).toContain("2000");
  });

  test("a view is deleted, and the listing opens with everything again", async () => {
    const { page, url } = opened;
    await on.open("?from=2025-03&to=2025-03#views");
    await page.getByRole("button", { name: "Delete the view February, dearest first" }).click();
    await page
      .getByRole("link", { name: "February, dearest first" })
      .waitFor({ state: "detached" });
    expect(await opened.running.client.views("works-asked")).toEqual([]);
    await page.goto(`${url}/listings/works-asked`);
    await all();
  });

  test("views that cannot be found out keep nobody from the records", async () => {
    const { page, url } = opened;
    await page.route("**/views", (route) => route.fulfill({ status: 500, body: "{}" }));
    await page.goto(`${url}/listings/works-asked`);
    await all();
    await page.unroute("**/views");
  });
});
