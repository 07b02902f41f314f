import type { Locator, Page } from "playwright-core";

/** What a person does, counted: a press is one, and so is a text with the Enter that ends it. */
export class Person {
  acts = 0;

  constructor(private readonly opened: { readonly page: Page }) {}

  async press(target: Locator): Promise<void> {
    this.acts++;
    await target.click();
  }

  async type(target: Locator, text: string): Promise<void> {
    this.acts++;
    await target.fill(text);
    await this.opened.page.keyboard.press("Enter");
  }

  /** Picks one of the values of a field. */
  async pick(target: Locator, value: string): Promise<void> {
    this.acts++;
    await target.selectOption(value);
  }

  /** Chooses a file, which opens as soon as it is there. */
  async bring(target: Locator, file: string): Promise<void> {
    this.acts++;
    await target.setInputFiles(file);
  }

  button(name: string | RegExp): Locator {
    return this.opened.page.getByRole("button", { name, exact: typeof name === "string" });
  }

  link(name: string | RegExp): Locator {
    return this.opened.page.getByRole("link", { name, exact: typeof name === "string" });
  }
}
