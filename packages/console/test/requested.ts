import type { NewListing } from "@orisma/client";
import type { Page } from "playwright-core";

/** A listing over the small source in which everything can be requested. */
export const ASKED: NewListing = {
  title: "Works",
  source: "works",
  zone: "Europe/London",
  mainDate: "raised",
  parameters: [
    { name: "from", type: "date", column: "raised", comparison: "from", pair: "raised" },
    { name: "to", type: "date", column: "raised", comparison: "to", pair: "raised" },
  ],
  order: { allowed: ["raised", "cost"], default: "raised" },
  page: { size: 100 },
  filter: { columns: "all" },
  choices: { note: { groups: { edges: ["the day before", "next midnight"] } } },
};

/** What is done on the page of that listing. */
export function requestedPage(opened: { readonly page: Page; readonly url: string }) {
  const drawn = () => opened.page.locator("section[aria-label=Answer][aria-busy=false]").waitFor();
  return {
    drawn,
    async open(query: string): Promise<void> {
      await opened.page.goto(`${opened.url}/listings/works-asked${query}`);
      await drawn();
    },
    /** Opens what can be requested of a column. */
    async ask(column: string): Promise<void> {
      await opened.page.getByRole("button", { name: "add a condition" }).click();
      await opened.page.getByRole("button", { name: column, exact: true }).first().click();
    },
    /** Opens the clause once more at which the focus is after something was applied. */
    reopen: async (words: string): Promise<void> => {
      await opened.page.waitForFunction((text) => {
        const { activeElement: clause } = document;
        return clause?.getAttribute("role") === "button" && clause.textContent.includes(text);
      }, words);
      await opened.page.keyboard.press("Enter");
    },
    /** Waits for a number of records, and reports which they are. */
    async found(count: number): Promise<readonly string[]> {
      await opened.page.getByText(`${count} of 10 records`, { exact: true }).waitFor();
      await drawn();
      return opened.page.locator("tbody tr td:first-child").allInnerTexts();
    },
  };
}
