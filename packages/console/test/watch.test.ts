import { once } from "node:events";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { consoleOfTests } from "./browser.js";

let text = "work,raised\nW-1,2025-03-01\n";
const server = createServer((request, response) => {
  if (request.url === "/works.csv") response.end(text);
  else response.writeHead(404).end();
});
let address = "";
const allowed: { host: string; port: number }[] = [];
beforeAll(async () => {
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as AddressInfo;
  address = `http://127.0.0.1:${port}`;
  allowed.push({ host: "127.0.0.1", port });
});
afterAll(() => {
  server.close();
});

const opened = consoleOfTests(undefined, { fetchable: allowed });

test("a source is fetched from an address in one act, checked by hand, and what came of it is shown", async () => {
  const { page, url, running } = opened;
  await running.client.createSource({ name: "fetched", key: "work", columns: {} });
  await page.goto(`${url}/sources/fetched`);
  await page.getByRole("button", { name: "Fetch it from an address whenever it changes" }).click();
  const field = page.getByLabel("An address that begins with https, or a file of the inbox");
  await field.fill("https://files.brindle.example/works.csv");
  await page.getByRole("button", { name: "Import it whenever it changes" }).click();
  await page.getByText(/Nothing is fetched from files.brindle.example:443/).waitFor();
  // What was typed stays, to be put right.
  expect(await field.inputValue()).toBe("https://files.brindle.example/works.csv");
  await field.fill(`${address}/works.csv`);
  await page.getByRole("button", { name: "Import it whenever it changes" }).click();
  const section = page.getByRole("region", { name: "Imported by itself" });
  await section.getByText("imported, 1 record").waitFor();
  expect(await section.innerText()).toContain(`${address}/works.csv, checked every hour, next`);
  await page.getByText("1 record", { exact: true }).waitFor();

  text += "W-2,2025-03-02\n";
  await section.getByRole("button", { name: "Check now" }).click();
  await section.getByText("imported, 2 records").waitFor();
  await section.getByRole("button", { name: "Stop" }).click();
  await section.getByText("Nothing is watched now.").waitFor();
  expect((await running.client.watch("fetched")).watch).toBeNull();
});
