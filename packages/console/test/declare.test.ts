import { describe, expect, test } from "@jest/globals";
import { refusal } from "../../../test/refusal.js";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

const file = () => opened.page.getByLabel("The file, in YAML or JSON");
const declare = () => opened.page.getByRole("button", { name: "Declare" });

describe("declaring a listing", () => {
  test("begins with three lines, goes on in the form or the file, and serves", async () => {
    await opened.page.goto(`${opened.url}/listings`);
    await opened.page.getByRole("link", { name: "Declare a listing" }).click();
    await opened.page.getByText("This is a new listing.").waitFor();
    expect(await file().inputValue()).toBe("name: works-listed\nsource: works\nmainDate: raised\n");
    await opened.page.getByLabel("Name in URLs").fill("works-late");
    await opened.page.getByLabel("Title").fill("Works, late");
    await opened.page.getByRole("combobox", { name: "Main date" }).selectOption("passed");
    await opened.page.getByLabel("Callers may filter by any column").check();
    expect(await file().inputValue()).toBe(
      "name: works-late\nsource: works\nmainDate: passed\ntitle: Works, late\nfilter:\n  columns: all\n",
    );
    await file().fill(`# kept\n${await file().inputValue()}page:\n  size: 4 # a few\n`);
    expect(await opened.page.getByLabel("Records on a page").inputValue()).toBe("4");
    await opened.page.getByRole("button", { name: "Customise the parameters" }).click();
    await opened.page.getByRole("button", { name: "Remove parameter note" }).click();
    await opened.page.getByLabel("Default of from").fill("2025-02-28");
    const text = await file().inputValue();
    expect(text).toContain("# kept");
    expect(text).toContain("size: 4 # a few");
    expect(text).not.toContain("name: note");
    const callers = opened.page.getByRole("region", { name: "Preview for callers" });
    await callers.getByLabel("up to and including").fill("2025-03-01");
    expect(await opened.page.getByLabel("curl call").innerText()).toContain(
      "/v1/listings/works-late/records?to=2025-03-01'",
    );
    await declare().click();
    await opened.page.getByRole("heading", { name: "Works, late" }).waitFor();
    await opened.page.getByText("3 of 10 records").waitFor();
    // A default is a condition that can be done without.
    await opened.page
      .getByRole("button", { name: /^Remove: passed from 28 February 2025/ })
      .click();
    await opened.page.getByText("10 of 10 records").waitFor();
    await opened.page.getByRole("button", { name: "Reset filters" }).click();
    await opened.page.getByText("3 of 10 records").waitFor();
    const answer = await opened.running.client.records("works-late", { to: "2025-03-01" });
    expect(answer.records.map(({ order }) => order)).toEqual(["W-06", "W-05", "W-04"]);
  });

  test("says each fault at its place, and serves what it served", async () => {
    await opened.page.goto(`${opened.url}/declare/works-raised`);
    const text = await file().inputValue();
    await file().fill(text.replace("mainDate: raised", "mainDate: rased"));
    await opened.page.getByRole("button", { name: "line 5, column 1" }).click();
    await opened.page.getByText("unknown column “rased”").first().waitFor();
    expect(await declare().isDisabled()).toBe(true);
    expect(
      await opened.page.evaluate(() => {
        const area = document.querySelector("textarea");
        return area?.value.slice(area.selectionStart, area.selectionEnd);
      }),
    ).toBe("mainDate: rased");
    await file().fill("name: [");
    await opened.page.getByText("The file cannot be read").waitFor();
    await file().fill(
      "name: works-raised\nsource: works\nmainDate: raised\nparameters: 3\ncolumns: x\n",
    );
    await opened.page.getByRole("button", { name: "line 4, column 1" }).waitFor();
    const answer = await opened.running.client.records("works-raised");
    expect(answer.meta.total).toBe(10);
  });

  test("shows the records that it would return, as the form and the callers' fields are filled in", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/declare?source=works`);
    const preview = page.getByRole("region", { name: "Preview for callers" });
    await preview.getByText("10 records; the first 10 are:").waitFor();
    await page.getByRole("combobox", { name: "Default order" }).selectOption("cost");
    await preview.getByText(/all records; by cost, ascending/).waitFor();
    await preview.getByLabel("from", { exact: true }).fill("2025-03-01");
    await preview.getByText(/works-listed: raised from 1 March 2025/).waitFor();
    const rows = preview.getByRole("row");
    await opened.page.waitForFunction(
      () => document.querySelectorAll("#callers ~ * tbody tr").length === 1,
    );
    expect(await rows.nth(1).innerText()).toContain("W-06");
    await preview.getByText("parameters more").click();
    await preview.getByLabel("contains").last().waitFor();
    // What was filled in cannot be read: it is said, and not taken for none.
    await preview.getByLabel("from", { exact: true }).fill("2025-13");
    await preview
      .getByText(/2025-13/)
      .first()
      .waitFor();
    // Nothing was declared.
    expect(await refusal(opened.running.client.listing("works-listed"))).toMatchObject({
      status: 404,
    });
  });

  test("reports what a change would remove before it is made", async () => {
    await opened.page.goto(`${opened.url}/listings/works-raised`);
    await opened.page.getByRole("button", { name: "More", exact: true }).click();
    await opened.page.getByRole("link", { name: "Edit the declaration" }).click();
    // What the test before left.
    await opened.page.getByRole("button", { name: "Start over" }).click();
    await opened.page.getByLabel("Fixed filter, in CQL2").fill("raised >= DATE('2025-03-01')");
    await opened.page.getByText("Without filters: 0 records added, 9 removed.").waitFor();
    await opened.page.getByLabel("Fixed filter, in CQL2").fill("");
    await opened.page.getByText("Without filters: 0 records added, 0 removed.").waitFor();
    expect(await file().inputValue()).not.toContain("fixedFilter");
  });

  test("keeps what was begun through a reload and another page, until it is dismissed", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/declare?source=works`);
    await page.getByLabel("Title").fill("Half done");
    await page.getByRole("link", { name: "Windows", exact: true }).click();
    await page.getByRole("heading", { name: "Try a window" }).waitFor();
    await page.goBack();
    await page.getByText("Draft restored").waitFor();
    expect(await page.getByLabel("Title").inputValue()).toBe("Half done");
    await page.reload();
    await page.getByRole("button", { name: "Start over" }).click();
    expect(await page.getByLabel("Title").inputValue()).toBe("");
    await page.reload();
    await page.getByText("This is a new listing.").waitFor();
    expect(await page.getByText("Draft restored").count()).toBe(0);
  });

  test("marks the very field that has a fault", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/declare/works-raised`);
    await page.getByLabel("Name of parameter 2").fill("t o");
    await page
      .getByLabel("Name of parameter 2", { exact: true })
      .and(page.locator("[aria-invalid=true]"))
      .waitFor();
    expect(await page.getByLabel("How from is compared").getAttribute("aria-invalid")).toBe(
      "false",
    );
    await page.getByText("“t o” is not a valid name").first().waitFor();
    await page.getByLabel("Name of parameter 2").fill("to");
  });

  test("has a field for every setting of the schema that is not set by column", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/declare?source=works`);
    await page.getByText("More settings").click();
    await page.getByLabel("Reversed dates").selectOption("reject");
    await page.getByLabel("Description of the fixed filter").fill("the works of the winter");
    await page.getByLabel("Numbered pages").selectOption("yes");
    await page.getByLabel("Working days").fill("MO, TU");
    await page.getByLabel("Maximum page size").fill("7");
    const text = await file().inputValue();
    expect(text).toContain("reversed: reject");
    expect(text).toContain("describeFixedFilter: the works of the winter");
    expect(text).toContain("page:\n  numbered: true\n  max: 7");
    expect(text).toContain("workdays:\n    - MO\n    - TU");
    await page.getByLabel("Maximum page size").fill("0");
    await page.getByLabel("Maximum page size").locator("..").getByText("1").first().waitFor();
    await page.getByLabel("Numbered pages").selectOption("");
    expect(await file().inputValue()).not.toContain("numbered");
    await page.getByText(/Only in the file: derived, relations, formats/).waitFor();
  });

  test("says what each comparison keeps", async () => {
    const { page, url } = opened;
    await page.goto(`${url}/declare/works-raised`);
    await page
      .getByText("includes dates until the end of the given one, its last day included")
      .waitFor();
    await page.getByLabel("How to is compared").selectOption("before");
    await page.getByText("includes dates before the start of the given one").waitFor();
  });
});
