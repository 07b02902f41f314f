import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";
import { Person } from "./person.js";

const files = mkdtempSync(join(tmpdir(), "orisma-files-"));
const opened = consoleOfTests();

afterAll(() => {
  rmSync(files, { recursive: true, force: true });
});

function written(name: string, content: string): string {
  const path = join(files, name);
  writeFileSync(path, content);
  return path;
}

/** From the page of a source to the answer of its listing's endpoint. */
async function fromSource(person: Person, request: Readonly<Record<string, string>>) {
  const { page } = opened;
  await person.press(person.link("Declare a listing"));
  await page.getByText("This is a new listing.").waitFor();
  await person.press(person.button("Declare"));
  await page
    .getByText(/records$/)
    .first()
    .waitFor();
  await person.press(person.button("More"));
  await person.press(person.link("API of this listing"));
  for (const [name, value] of Object.entries(request)) {
    await person.type(page.getByLabel(name, { exact: true }), value);
  }
  await page.getByText("200 OK").waitFor();
  const body = await page.getByLabel("Body").locator("pre").innerText();
  return (JSON.parse(body) as { records: { id: string | number }[] }).records.map(({ id }) => id);
}

describe("from a file to an endpoint that is called", () => {
  test("a regular file: 12 acts at most", async () => {
    const { page, url } = opened;
    const person = new Person(opened);
    await page.goto(`${url}/listings`);
    await person.press(person.link("Sources"));
    const file = written(
      "dredging.csv",
      "id,begun,metres\nD-1,31/01/2025,40\nD-2,28/02/2025,12\nD-3,13/03/2025,7\n",
    );
    await person.bring(page.getByLabel("File", { exact: true }), file);
    await person.press(person.button(/^Import 3 columns as dredging/));
    await page.getByRole("heading", { name: "dredging" }).waitFor();
    await person.press(person.button("Read it"));
    await page.getByText("days, written dd/MM/yyyy").waitFor();
    expect(await fromSource(person, { to: "2025-02" })).toEqual(["D-2", "D-1"]);
    expect(person.acts).toBeLessThanOrEqual(12);
  });

  test("an ugly one, whose days are in doubt and whose amounts have commas: 18 at most", async () => {
    const { page, url } = opened;
    const person = new Person(opened);
    await page.goto(`${url}/listings`);
    await person.press(person.link("Sources"));
    const file = written(
      "tolls (old).csv",
      "Mautliste;;\nNummer;Tag;Betrag\n7;03/04/2025;1.234,56 €\n8;05/06/2025;-3,50 €\n9;;12,00 €\nSumme;;1.243,06 €\n",
    );
    await person.bring(page.getByLabel("File", { exact: true }), file);
    await page.getByText("column 2 has no heading").waitFor();
    await person.type(page.getByLabel("Lines above the headings"), "1");
    await person.pick(page.getByLabel("Key column"), "Nummer");
    await person.press(person.button("Import 3 columns as tolls-old"));
    await page.getByText("records", { exact: false }).first().waitFor();
    const card = (name: string) => page.getByRole("listitem", { name, exact: true });
    await person.press(person.button("Read it"));
    await card("Betrag").getByText("1.234,56 €").first().waitFor();
    await person.press(card("Tag").getByRole("button", { name: "Set reading" }));
    const evidence = page.getByRole("region", { name: "Evidence" });
    await evidence.getByRole("row", { name: /^dd\/MM\/yyyy .* taken$/ }).waitFor();
    await person.press(person.button("Set the reading"));
    await card("Tag").getByText("days, written dd/MM/yyyy").waitFor();
    expect(await fromSource(person, { Tag: "2025-06" })).toEqual(["8"]);
    expect(person.acts).toBeLessThanOrEqual(18);
  });
});
