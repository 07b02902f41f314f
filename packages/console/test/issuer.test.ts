import { afterAll, expect, test } from "@jest/globals";
import { TestIssuer } from "../../../test/issuer.js";
import { consoleOfTests } from "./browser.js";

const issuer = new TestIssuer();
await issuer.listen();
const { url: issuerUrl } = issuer;
const opened = consoleOfTests(undefined, {
  issuer: { url: issuerUrl, clientId: "orisma", clientSecret: "a secret" },
});
afterAll(() => issuer.close());

test("a person signs in at the issuer, comes back to the page they wanted, and is listed", async () => {
  const { page, url, running } = opened;
  issuer.answers.claims = { sub: "m1", name: "Maud Harrow", groups: ["crew"], lock: "Tansy Lock" };
  await page.getByRole("button", { name: "Sign out" }).click();
  await page.goto(`${url}/listings/works-raised?from=2025-02`);
  await page.getByRole("link", { name: `Sign in at ${new URL(issuerUrl).host}` }).click();
  await page.getByRole("heading", { name: "Works raised" }).waitFor();
  expect(page.url()).toBe(`${url}/listings/works-raised?from=2025-02`);
  await page.goto(`${url}/access`);
  await page.getByText("You are signed in as a reader: Maud Harrow.").waitFor();
  await page.getByRole("button", { name: "Sign out" }).click();
  await page.getByLabel("Sign-in code or key").fill(running.service.createCode());
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Access" }).waitFor();
  await page.goto(`${url}/access`);
  const people = page.getByRole("list", { name: "People" });
  await people.getByText("lock Tansy Lock").waitFor();
  await people.getByText("without a password here").waitFor();
});
