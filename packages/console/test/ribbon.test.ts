import { describe, expect, test } from "@jest/globals";
import { ASKED, requestedPage } from "./requested.js";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests(({ running }) => running.client.declareListing("works-asked", ASKED));
const on = requestedPage(opened);

const ribbon = () => opened.page.getByRole("region", { name: "Time ribbon of raised" });
const edge = (name: string) => opened.page.getByRole("slider", { name });

describe("the time ribbon", () => {
  test("has a mark for each day, and one each for what has no place in time", async () => {
    await on.open("");
    await ribbon().getByRole("img").waitFor();
    expect(await ribbon().getByRole("img").getAttribute("aria-label")).toBe(
      "30 units of a day, from 2025-01-31T00:00:00 to 2025-03-02T00:00:00; 25 without records",
    );
    const answer = await ribbon().locator("dl").innerText();
    expect(answer.replaceAll(/\s+/g, " ")).toBe("blank 3 unreadable 1 empty 25 days");
    await ribbon().getByRole("button", { name: "3" }).click();
    expect(await on.found(3)).toEqual(["W-07", "W-08", "W-09"]);
  });

  test("has edges that are moved by keys, and ask for exact counts when they rest", async () => {
    await on.open("?from=2025-02-01&to=2025-02-28");
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
    // The oldest are on top here, as in the listing.
    await edge("End of the window").focus();
    await opened.page.keyboard.press("ArrowDown");
    await ribbon().getByText("5 records here").waitFor();
    expect(await edge("End of the window").getAttribute("aria-valuetext")).toContain("1 Mar");
    expect(await on.found(5)).toContain("W-06");
    await edge("Beginning of the window").focus();
    await opened.page.keyboard.press("ArrowUp");
    expect(await on.found(6)).toContain("W-01");
    const { searchParams } = new URL(opened.page.url());
    expect([searchParams.get("from"), searchParams.get("to")]).toEqual([
      "2025-01-31",
      "2025-03-01",
    ]);
  });

  test("has edges that are dragged from day to day", async () => {
    await on.open("?from=2025-02-01&to=2025-02-28");
    await on.found(4);
    const box = await edge("Beginning of the window").boundingBox();
    const end = await edge("End of the window").boundingBox();
    if (box === null || end === null) throw new Error("the edges are not there");
    const day = (end.y - box.y) / 28;
    await opened.page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await opened.page.mouse.down();
    await opened.page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 13.2 * day, {
      steps: 5,
    });
    await ribbon().getByText("3 records here").waitFor();
    expect(new URL(opened.page.url()).searchParams.get("from")).toBe("2025-02-01");
    await opened.page.mouse.up();
    expect(await on.found(3)).toEqual(["W-03", "W-04", "W-05"]);
    expect(new URL(opened.page.url()).searchParams.get("from")).toBe("2025-02-14");
  });

  test("runs in the listing's order", async () => {
    await on.open("?from=2025-02-01&to=2025-02-28&order=-raised");
    const [start, end] = [
      await edge("Beginning of the window").boundingBox(),
      await edge("End of the window").boundingBox(),
    ];
    expect(start?.y ?? 0).toBeGreaterThan(end?.y ?? Infinity);
    await edge("End of the window").focus();
    await opened.page.keyboard.press("ArrowUp");
    expect(await on.found(5)).toContain("W-06");
  });

  test("leaves an end that is not moved as it was written, in the middle of a unit too", async () => {
    await on.open("?from=2025-02-03&to=2025-02-26");
    await edge("Beginning of the window").focus();
    await opened.page.keyboard.press("ArrowUp");
    await opened.page.waitForURL(/from=2025-02-02&to=2025-02-26/);
    // What rolls goes on rolling, beyond the records too, where the ribbon ends.
    await on.open("?from=month-1&to=month%2B1&asOf=2025-02-14");
    await edge("Beginning of the window").focus();
    await opened.page.keyboard.press("ArrowDown");
    await opened.page.waitForURL(/from=2025-02-01&to=month%2B1/);
  });

  test("stays as it is while an edge moves, with the focus on the edge, and says what is drawn", async () => {
    await on.open("?from=2025-02-10&to=2025-02-20");
    const drawn = () => ribbon().getByRole("img").getAttribute("aria-label");
    await ribbon().getByText("as long before").waitFor();
    const before = await drawn();
    expect(before).toContain("30 units of a day, from 2025-01-31");
    await edge("End of the window").focus();
    await opened.page.keyboard.press("ArrowDown");
    await opened.page.waitForURL(/from=2025-02-10&to=2025-02-21/);
    await on.drawn();
    expect(await drawn()).toBe(before);
    const focused = () =>
      opened.page.evaluate(() => document.activeElement?.getAttribute("aria-label"));
    expect(await focused()).toBe("End of the window");
    await opened.page.keyboard.press("ArrowDown");
    await opened.page.waitForURL(/from=2025-02-10&to=2025-02-22/);
    expect(await focused()).toBe("End of the window");
  });

  test("is zoomed by keys and by the wheel, never beyond the records or into the window", async () => {
    await on.open("?from=2025-02-10&to=2025-02-20");
    const units = (count: number) =>
      opened.page.locator(`svg[aria-label^="${count} units of a day"]`).waitFor();
    await units(30);
    await edge("End of the window").focus();
    await opened.page.keyboard.press("+");
    await units(21);
    for (let presses = 0; presses < 9; presses++) await opened.page.keyboard.press("+");
    await units(11);
    expect(await edge("Beginning of the window").getAttribute("aria-valuenow")).toBe("0");
    for (let presses = 0; presses < 9; presses++) await opened.page.keyboard.press("-");
    await units(30);
    // Without a window too.
    await on.open("");
    await units(30);
    const box = await ribbon().getByRole("img").boundingBox();
    await opened.page.mouse.move((box?.x ?? 0) + 100, (box?.y ?? 0) + 250);
    await opened.page.keyboard.down("Control");
    await opened.page.mouse.wheel(0, -100);
    await opened.page
      .locator('svg[aria-label*="units of a day"]:not([aria-label^="30 "])')
      .waitFor();
    await opened.page.mouse.wheel(0, 100);
    await opened.page.keyboard.up("Control");
    await units(30);
  });

  test("makes a window of a span that is drawn over, and of a unit that is pressed", async () => {
    await on.open("");
    const box = await ribbon().getByRole("img").boundingBox();
    if (box === null) throw new Error("the ribbon is not there");
    const day = box.height / 30;
    const x = box.x + box.width / 2;
    // From the second day to the fourth.
    await opened.page.mouse.move(x, box.y + 1.5 * day);
    await opened.page.mouse.down();
    await opened.page.mouse.move(x, box.y + 3.5 * day, { steps: 4 });
    await opened.page.mouse.up();
    await opened.page.waitForURL(/from=2025-02-01&to=2025-02-03/);
    await on.open("");
    await ribbon().getByRole("img").waitFor();
    await opened.page.mouse.click(x, box.y + 1.5 * day);
    await opened.page.waitForURL(/from=2025-02-01&to=2025-02-01/);
  });

  test("goes by what took effect after a swap, whatever stands in the address", async () => {
    await on.open("?from=2025-02-28&to=2025-02-01");
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
    await edge("End of the window").focus();
    await opened.page.keyboard.press("ArrowDown");
    expect(await on.found(5)).toEqual(["W-02", "W-03", "W-04", "W-05", "W-06"]);
    await opened.page.waitForURL(/from=2025-02-01&to=2025-03-01/);
  });
});
