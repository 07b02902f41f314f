import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Page } from "playwright-core";
import type { TestService } from "../../../test/service.js";
import { openConsole, type OpenConsole } from "./browser.js";

let opened: OpenConsole;
let running: TestService;
let page: Page;

beforeAll(async () => {
  opened = await openConsole();
  ({ running, page } = opened);
});
afterEach(() => {
  expect(opened.errors.splice(0)).toEqual([]);
});
afterAll(() => opened.end());

async function open(query: string): Promise<void> {
  await page.goto(`${running.service.url}/listings/works-raised${query}`);
  await drawn();
}

async function drawn(): Promise<void> {
  await page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
}

/** Opens the editor of the dates, from the clause that says them or from "add a condition". */
async function openDates(): Promise<void> {
  const clause = page.getByRole("button", { name: /^raised (?:from|to|in) / });
  if ((await clause.count()) > 0) return clause.click();
  await page.getByRole("button", { name: "add a condition" }).click();
  await page.getByRole("button", { name: "raised (the main date)" }).click();
}

function orders(): Promise<readonly string[]> {
  return page.locator("tbody tr td:first-child").allInnerTexts();
}

describe("the sign-in", () => {
  test("refuses a wrong code in words, and leads to the listings with a right one", async () => {
    await page.getByRole("button", { name: "Sign out" }).click();
    const code = page.getByLabel("Sign-in code");
    await code.fill("AAAA-AAAA-AAAA");
    await page.getByRole("button", { name: "Sign in" }).click();
    await page.getByText("The code is not valid").waitFor();
    await code.fill(running.service.createCode());
    await page.getByRole("button", { name: "Sign in" }).click();
    const row = page.getByRole("row", { name: /^works-passed works 10/ });
    await row.getByText("from, to, not").waitFor();
    await page.getByRole("link", { name: "Works raised" }).click();
    await page.getByRole("heading", { name: "Works raised" }).waitFor();
  });
});

describe("the listing", () => {
  test("shows everything at first, with blanks and unreadable cells distinguished", async () => {
    await open("?order=-raised");
    expect(await page.getByText("10 of 10 records").count()).toBe(1);
    expect(await orders()).toEqual(["W-06", "W-05", "W-04"]);
    await open("?order=raised&size=100");
    expect(await page.getByTitle("“31/02/2025” is not a date").innerText()).toBe("31/02/2025");
    expect(
      await page
        .locator("tbody tr")
        .filter({ hasText: "W-07" })
        .getByText("blank", { exact: true })
        .count(),
    ).toBe(3);
  });

  test("is narrowed by keyboard alone; the last day is in, and the dates are in the address", async () => {
    await open("");
    await page.getByRole("button", { name: "add a condition" }).focus();
    await page.keyboard.press("Enter");
    await page.keyboard.press("Enter");
    await page.getByLabel("from", { exact: true }).waitFor();
    await page.waitForFunction(() => document.activeElement?.id === "field-from");
    await page.keyboard.type("2025-02-28");
    await page.getByText("28 February 2025", { exact: true }).waitFor();
    await page.keyboard.press("Tab");
    await page.keyboard.type("2025-02-28");
    await page.keyboard.press("Enter");
    await page.getByText("2 of 10 records").waitFor();
    expect(await orders()).toEqual(["W-04", "W-05"]);
    expect(new URL(page.url()).search).toBe("?from=2025-02-28&to=2025-02-28");
    await page.keyboard.press("Escape");
    await page.getByLabel("from", { exact: true }).waitFor({ state: "detached" });
    await page.reload();
    await page.getByText("2 of 10 records").waitFor();
    expect(await page.getByText("raised on 28 February 2025, blank dates excluded").count()).toBe(
      1,
    );
    await openDates();
    expect(await page.getByLabel("from", { exact: true }).inputValue()).toBe("2025-02-28");
  });

  test("takes dates that move and whole windows, shown in words as they are typed", async () => {
    await running.client.declareListing("works-window", {
      title: "Works in a window",
      source: "works",
      zone: "Europe/London",
      mainDate: "raised",
      parameters: [
        { name: "raised", type: "window", column: "raised", comparison: "on", label: "raised in" },
        { name: "since", type: "date", column: "raised", comparison: "from", label: "since" },
      ],
      order: { allowed: ["raised"] },
    });
    await page.goto(`${running.service.url}/listings/works-window`);
    await drawn();
    await openDates();
    const window = page.getByLabel("raised in", { exact: true });
    await window.fill("../..;BYMONTHDAY=-1");
    await page.getByText("on the last day of the month, Europe/London").waitFor();
    await page.keyboard.press("Enter");
    await page.getByText("3 of 10 records").waitFor();
    expect(await orders()).toEqual(["W-05", "W-04", "W-01"]);
    await page
      .getByRole("button", { name: /^raised on the last day/ })
      .first()
      .click();
    await page.getByLabel("since", { exact: true }).fill("month-1/now");
    await page.getByText("one date is expected").waitFor();
    await page.getByLabel("since", { exact: true }).fill("2025-02-01+P27D");
    await page.getByText("on 28 February 2025", { exact: true }).waitFor();
    await page.keyboard.press("Enter");
    await page.getByText("2 of 10 records").waitFor();
    expect(new URL(page.url()).searchParams.get("since")).toBe("2025-02-01+P27D");
    await running.client.deleteListing("works-window");
  });

  test("goes back to the start, and to what was before with the browser's own button", async () => {
    await open("?from=2025-03-01");
    expect(await orders()).toEqual(["W-06"]);
    await page.getByRole("button", { name: "Reset filters" }).click();
    await page.getByText("10 of 10 records").waitFor();
    expect(await page.getByRole("button", { name: /^raised from/ }).count()).toBe(0);
    await page.goBack();
    await page.getByText("1 of 10 records").waitFor();
    await page.getByRole("button", { name: "Remove: raised from 1 March 2025" }).click();
    await page.getByText("10 of 10 records").waitFor();
  });

  test("says what is wrong with a date beside it, and searches nothing", async () => {
    await open("");
    await openDates();
    const to = page.getByLabel("up to and including", { exact: true });
    await to.fill("31/02/2025");
    await page.getByRole("button", { name: "Apply", exact: true }).first().click();
    await page.getByText("Invalid filter").waitFor();
    expect(await page.locator("#hint-to").innerText()).toContain(
      "“31/02/2025” is not a date: February 2025 has 28 days.",
    );
    expect(await to.getAttribute("aria-invalid")).toBe("true");
    expect(await page.getByRole("table").count()).toBe(0);
    await to.fill("2025-01");
    await page.keyboard.press("Enter");
    await page.getByText("1 of 10 records").waitFor();
  });

  test("shows swapped dates in their new places, and says so", async () => {
    await open("?from=2025-02-28&to=2025-02-01");
    await page.getByText("The dates were in reverse order and were swapped").waitFor();
    await openDates();
    expect(await page.getByLabel("from", { exact: true }).inputValue()).toBe("2025-02-01");
    expect(await page.getByLabel("up to and including", { exact: true }).inputValue()).toBe(
      "2025-02-28",
    );
    expect(await page.getByText("4 of 10 records").count()).toBe(1);
  });

  test("says which window was searched when nothing is in it", async () => {
    await open("?from=2031-05&to=2031-05");
    await page.getByText("No record lies in this window").waitFor();
    expect(
      await page.getByRole("button", { name: "raised 1–31 May 2031", exact: true }).count(),
    ).toBe(1);
    expect(await page.getByText("0 of 10 records").count()).toBe(1);
  });

  test("is put in order by its headings, and keeps its dates", async () => {
    await open("?from=2025-02-28");
    await page.getByRole("button", { name: "cost", exact: true }).click();
    await page.waitForURL(/order=-cost/);
    await drawn();
    expect(await orders()).toEqual(["W-04", "W-06", "W-05"]);
    expect(await page.getByRole("columnheader", { name: "cost" }).getAttribute("aria-sort")).toBe(
      "descending",
    );
    await page.getByRole("button", { name: "cost", exact: true }).click();
    await page.waitForURL(/order=cost/);
    await drawn();
    expect(await orders()).toEqual(["W-05", "W-06", "W-04"]);
  });

  test("pages there and back through the whole", async () => {
    await open("?order=raised");
    const seen = [...(await orders())];
    for (let count = 0; count < 3; count++) {
      const before = page.url();
      await page.getByRole("button", { name: "Next" }).click();
      await page.waitForURL((url) => url.href !== before);
      await drawn();
      seen.push(...(await orders()));
    }
    expect(seen).toHaveLength(10);
    expect(new Set(seen).size).toBe(10);
    expect(await page.getByRole("button", { name: "Next" }).isDisabled()).toBe(true);
    await page.getByRole("button", { name: "Previous" }).click();
    await page.waitForFunction(
      (first) => document.querySelector("tbody td")?.textContent === first,
      seen[6],
    );
  });

  test("is light or dark as requested, and stays so", async () => {
    await open("");
    const background = () =>
      page.evaluate(
        () =>
          getComputedStyle(document.querySelector("#root > div") ?? document.body).backgroundColor,
      );
    await page.getByRole("button", { name: /Change to light/ }).click();
    const light = await background();
    await page.getByRole("button", { name: /Change to dark/ }).click();
    const dark = await background();
    expect(dark).not.toBe(light);
    await page.reload();
    await drawn();
    expect(await background()).toBe(dark);
    await page.getByRole("button", { name: /Change to as the system/ }).click();
  });
});

describe("the explanation", () => {
  test("opens beside the records, reports what narrowed them and what is sent to the database", async () => {
    await open("?from=2025-02-28&to=2025-02-28");
    await page.getByRole("button", { name: "Explain" }).focus();
    await page.keyboard.press("Enter");
    await page.getByText("Records after each condition").waitFor();
    const gates = page.locator("ol li");
    expect(await gates.first().innerText()).toContain("10");
    expect(await gates.last().innerText()).toContain("2 remain");
    expect(await page.getByText("before 2025-03-01 in Europe/London").count()).toBe(1);
    expect(await page.getByLabel("The page in SQL").innerText()).toContain('"2025-02-28"');
    expect(new URL(page.url()).hash).toBe("#explain");
    await page.getByRole("button", { name: "Close the explanation" }).click();
    await page.getByText("Records after each condition").waitFor({ state: "detached" });
  });

  test("says what is only there without the conditions, and which of them leaves a record out", async () => {
    await open("?from=2025-02-28&to=2025-02-28#explain");
    const beside = page.locator("section", { hasText: "With and without each condition" }).last();
    await beside.getByText("only without").waitFor();
    const answer = (await beside.innerText()).replaceAll(/\s+/g, " ");
    expect(answer).toContain("without 10 with 2 only without 8");
    expect(answer).not.toContain("W-04");
    expect(answer).toContain("W-01");
    await open("?from=2025-02-28&to=2025-02-28#record");
    await page.getByLabel("Record, by its order").fill("W-06");
    await page.keyboard.press("Enter");
    await page.getByText("W-06 is out.").waitFor();
    await page
      .getByText("leaves it out: raised on 28 February 2025; it has 2025-03-01 in raised")
      .waitFor();
    await page.getByLabel("Record, by its order").fill("W-05");
    await page.keyboard.press("Enter");
    await page.getByText("W-05 is in.").waitFor();
    await page.getByLabel("Record, by its order").fill("W-99");
    await page.keyboard.press("Enter");
    await page.getByText("The listing has no record W-99").waitFor();
  });

  test("is opened by its address, and says why there is no record", async () => {
    await open("?from=2031");
    const reasons = page.getByRole("list", { name: "Why there is no record" });
    await reasons.waitFor();
    expect(await reasons.innerText()).toContain("raised");
    await open("?from=2031#explain");
    await page.getByRole("heading", { name: "Records after each condition" }).waitFor();
  });
});
