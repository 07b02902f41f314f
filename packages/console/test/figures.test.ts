import { readFileSync } from "node:fs";
import { describe, expect, test } from "@jest/globals";
import type { Locator } from "playwright-core";
import { consoleOfTests } from "./browser.js";
import { ASKED, requestedPage } from "./requested.js";

const opened = consoleOfTests(async ({ running }) => {
  await running.client.declareListing("works-asked", ASKED);
});
const on = requestedPage(opened);
const figures = () => opened.page.getByRole("region", { name: "Figures" });
const pick = (label: string): Locator => opened.page.getByRole("combobox", { name: label });
const plot = () => opened.page.locator("canvas[data-plot]");

/** The colours of a plot's areas: the paper, the lines, and each series. */
async function coloursDrawn(): Promise<number> {
  await plot().waitFor();
  return plot().evaluate((canvas: HTMLCanvasElement) => {
    const context = canvas.getContext("2d");
    const { data } = context?.getImageData(0, 0, canvas.width, canvas.height) ?? { data: [] };
    const colours = new Map<string, number>();
    for (let at = 0; at < data.length; at += 4) {
      const colour = `${data[at] ?? 0},${data[at + 1] ?? 0},${data[at + 2] ?? 0}`;
      colours.set(colour, (colours.get(colour) ?? 0) + 1);
    }
    // Letters, and what lies between two colours, are of few pixels.
    return [...colours.values()].filter((count) => count > 2_000).length;
  });
}

describe("figures", () => {
  test("are drawn by month, and kept in the address with what was chosen", async () => {
    const { page } = opened;
    await on.open("#summary");
    await figures()
      .getByRole("row", { name: /^2025-02 4/ })
      .waitFor();
    const colours = await coloursDrawn();
    expect(colours).toBeGreaterThan(1);
    await pick("Columns").selectOption("note");
    await pick("Figure").selectOption("sum:cost");
    await page.waitForURL(/rows=raised%3Amonth&columns=note&figure=sum%3Acost$/);
    await page.reload();
    await figures().getByRole("columnheader", { name: "last moment" }).waitFor();
    expect(await pick("Figure").inputValue()).toBe("sum:cost");
    expect(await coloursDrawn()).toBeGreaterThan(colours);
  });

  test("a bar that is pressed, and a row's name, narrow the records to their group", async () => {
    const { page } = opened;
    await on.open("#summary");
    await figures().getByRole("button", { name: "2025-02" }).click();
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
    // What is summarised stays open.
    await figures()
      .getByRole("row", { name: /^all 4/ })
      .waitFor();
    await on.open("#summary");
    await figures().getByRole("button", { name: "2025-02" }).waitFor();
    const groups = await figures().getByRole("row").count();
    const box = await plot().boundingBox();
    const names = await figures().locator("tbody th").allInnerTexts();
    const at = names.indexOf("2025-02");
    expect([groups > 4, at >= 0]).toEqual([true, true]);
    // Bars stand behind the axis, each in the middle of its share.
    const [left, width] = [30, (box?.width ?? 0) - 30];
    const x = left + (width * (at + 0.5)) / names.length;
    await plot().click({ position: { x, y: (box?.height ?? 0) * 0.7 } });
    expect(await on.found(4)).toEqual(["W-02", "W-03", "W-04", "W-05"]);
    expect(new URL(page.url()).searchParams.get("from")).toBe("2025-02");
  });

  test("groups of values narrow too, blanks among them", async () => {
    await on.open("#summary=rows=note");
    await figures().getByRole("button", { name: "last moment" }).click();
    expect(await on.found(1)).toEqual(["W-05"]);
    await on.open("#summary=rows=note");
    await figures().getByRole("button", { name: "blank", exact: true }).click();
    await opened.page.getByText(/^\d of 10 records$/).waitFor();
  });

  test("without a group there is the total alone", async () => {
    await on.open("?from=2025-02&to=2025-02#summary=rows=&figure=sum:cost");
    await figures()
      .getByRole("row", { name: /^all 2,500/ })
      .waitFor();
    expect(await plot().count()).toBe(0);
    await pick("Rows").selectOption("note");
    await plot().waitFor();
  });

  test("are saved as a picture with paper behind it, and as CSV", async () => {
    const { page } = opened;
    await on.open("#summary");
    await coloursDrawn();
    const picture = page.waitForEvent("download");
    await page.getByRole("button", { name: "This plot as PNG" }).click();
    const saved = await picture;
    expect(saved.suggestedFilename()).toBe("works-asked-summary.png");
    const bytes = readFileSync(await saved.path());
    expect(bytes.subarray(1, 4).toString("latin1")).toBe("PNG");
    const file = page.waitForEvent("download");
    await page.getByRole("button", { name: "These figures as CSV" }).click();
    expect(readFileSync(await (await file).path(), "utf8")).toContain("2025-02,4");
  });
});
