import { expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";

const opened = consoleOfTests();

test("a person is added, signs in with a name and a password, and changes the password", async () => {
  const { page, url, running } = opened;
  await running.client.declareListing("works-own", {
    source: "works",
    mainDate: "raised",
    allow: { read: ["group:crew"] },
  });
  await page.goto(`${url}/access`);
  await page.getByText("Nobody signs in with a password yet.").waitFor();
  await page.getByLabel("Name of the person").fill("Maud Harrow");
  await page.getByLabel("Groups, with commas").fill("crew, office");
  await page.getByRole("button", { name: "Add the person" }).click();
  await page.getByText("The password of Maud Harrow, shown this once").waitFor();
  const password = (await page.getByRole("status").locator("code").innerText()).trim();
  await page.getByRole("list", { name: "People" }).getByText("reader, of crew, office").waitFor();

  await page.getByRole("button", { name: "Sign out" }).click();
  await page.getByRole("button", { name: "Use a name and a password" }).click();
  await page.getByLabel("Name").fill("maud harrow");
  await page.getByLabel("Password").fill("not the password");
  await page.keyboard.press("Enter");
  await page.getByText("The name and the password do not belong together").waitFor();
  await page.getByLabel("Password").fill(password);
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Access" }).waitFor();
  await page.goto(`${url}/listings`);
  await page.getByRole("link", { name: "works-own" }).waitFor();

  await page.goto(`${url}/access`);
  await page.getByText("You are signed in as a reader: Maud Harrow.").waitFor();
  expect(await page.getByRole("button", { name: "Add the person" }).count()).toBe(0);
  await page.getByLabel("Current password").fill(password);
  await page.getByLabel("New password").fill("brindle vale 1791");
  await page.getByRole("button", { name: "Change the password" }).click();
  await page.getByLabel("Sign-in code or key").waitFor();
  await page.getByRole("button", { name: "Use a name and a password" }).click();
  await page.getByLabel("Name").fill("Maud Harrow");
  await page.getByLabel("Password").fill("brindle vale 1791");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Access" }).waitFor();
  await page.getByRole("button", { name: "Sign out" }).click();
  await page.getByLabel("Sign-in code or key").fill(running.service.createCode());
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "Access" }).waitFor();
  await page.goto(`${url}/access`);
  await page.getByRole("button", { name: "Delete Maud Harrow" }).click();
  await page.getByRole("button", { name: "Delete “Maud Harrow”" }).click();
  await page.getByText("Nobody signs in with a password yet.").waitFor();
  expect(await running.client.people()).toEqual([]);
});
