/**
 * `npm run shots`: makes the pictures of docs/screenshots again, from the demo data, in a
 * service of its own that ends afterwards.
 */
import { execFile } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, bootstrap } from "./bootstrap.mjs";
import { BROWSER } from "./browser.mjs";
import { startScratchService } from "./scratch.mjs";

bootstrap(["database", "browser"]);
const { chromium } = await import("playwright-core");
const { DEMO_SEED, inspectionsXlsx, loadDemo } = await import("@orisma/demo");

const FOLDER = join(ROOT, "docs/screenshots");
const { service, scratch, end } = await startScratchService("shots");
const only = process.argv.slice(2);
mkdirSync(FOLDER, { recursive: true });
const workbook = join(scratch, "inspections.xlsx");

try {
  writeFileSync(workbook, await inspectionsXlsx(DEMO_SEED, Math.floor(Date.now() / 86_400_000)));
  await loadDemo(service);
  const browser = await chromium.launchPersistentContext(join(scratch, "browser"), BROWSER);
  try {
    const page = browser.pages()[0] ?? (await browser.newPage());
    await pages(page);
    await terminals(page);
  } finally {
    await browser.close();
  }
} finally {
  await end();
}

async function pages(page) {
  await page.goto(`${service.url}/`);
  await page.getByLabel("Sign-in code").waitFor();
  await shot(page, "sign-in");
  await page.getByLabel("Sign-in code").fill(service.createCode());
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("heading", { name: "Listings" }).waitFor();
  const listing = `${service.url}/listings/works-raised`;
  const asked = "priority IN ('high', 'medium') AND NOT status IN ('finished', 'cancelled')";
  await visit(
    page,
    `${listing}?from=month-5&to=month&filter=${encodeURIComponent(asked)}`,
    "table",
  );
  await page.getByRole("img", { name: /units of a/ }).waitFor();
  await shot(page, "listing");
  await page.goto(`${listing}?from=2025-02-01&to=2025-02-28#explain`);
  const understood = page.getByText("Records after each condition");
  await understood.evaluate((element) => element.scrollIntoView({ block: "start" }));
  await shot(page, "explain");
  await page.emulateMedia({ colorScheme: "dark" });
  await visit(page, `${service.url}/listings/passages-made?from=2026-11-09&to=2026-11-22`, "table");
  await page.getByRole("button", { name: /^passed / }).click();
  await page.getByRole("button", { name: /^9 November 2026, \d+ records/ }).waitFor();
  await shot(page, "listing-dark");
  await page.emulateMedia({ colorScheme: "light" });
  await page.goto(`${service.url}/sources`);
  await page.getByLabel("File", { exact: true }).setInputFiles(workbook);
  await page.getByLabel("First records").waitFor();
  await shot(page, "import");
  await page.getByLabel("Name of the source").fill("bridge-log");
  await page.getByLabel("Key column").selectOption("Inspection");
  await page.getByRole("button", { name: /^Import 6/ }).click();
  await page.getByText("can be read in one way only").waitFor();
  await shot(page, "source");
  await page.getByRole("button", { name: "Read both" }).click();
  const due = page.getByRole("listitem", { name: "Next due" });
  await due.getByText("days, written yyyy-MM-dd").waitFor();
  await due.getByRole("button", { name: "Set reading" }).click();
  await due.getByText("as it is read").waitFor();
  await due.evaluate((element) => element.scrollIntoView({ block: "start" }));
  await shot(page, "reading");
  await page.goto(
    `${service.url}/windows?window=year%3BBYMONTH%3D3..10%3BBYDAY%3DSA..SU&zone=Europe/London&asOf=2026-11-25T09:00:00Z`,
  );
  await page.getByLabel("Windows by name").waitFor();
  await shot(page, "windows");
  await calls(page);
  await page.goto(`${service.url}/declare/works-open`);
  await page.getByRole("heading", { name: "Preview for callers" }).waitFor();
  await page.getByText("the first 10 are:").waitFor();
  await shot(page, "declare");
  // Now that some listings were used; each row with what it holds.
  await page.goto(`${service.url}/listings`);
  await page.locator("tbody tr").last().getByText("2,400").waitFor();
  await shot(page, "listings");
  await page.goto(`${service.url}/access`);
  await page
    .getByRole("button", { name: /^Revoke/ })
    .first()
    .waitFor();
  await shot(page, "access");
}

/** A call that is filled in and sent. */
async function calls(page) {
  await page.goto(`${service.url}/reference#getListingsTollsTakenRecords`);
  await page.getByLabel("taken", { exact: true }).fill("month-1");
  await page.getByLabel("direction", { exact: true }).selectOption("up");
  await page.getByRole("button", { name: "Send" }).click();
  const answer = page.getByText("200 OK");
  await answer.waitFor();
  await answer.evaluate((element) => element.scrollIntoView({ block: "center" }));
  await shot(page, "api");
}

async function visit(page, address, role) {
  await page.goto(address);
  await page.getByRole(role).first().waitFor();
  await page.evaluate(() => document.fonts.ready);
}

async function terminals(page) {
  const commands = {
    "cli-records": [
      "records",
      "works-raised",
      "--from",
      "2025-02-01",
      "--to",
      "2025-02-28",
      "--size",
      "20",
    ],
    "cli-explain": ["explain", "works-raised", "--from", "2025-02-28", "--to", "2025-02-01"],
    "cli-profile": ["sources", "profile", "inspections"],
    "cli-look": ["import", workbook, "--dry-run"],
    "cli-read": [
      "read",
      "45292",
      "45292.75",
      "60",
      "0.5",
      "soon",
      "--encoding",
      "serial-1900",
      "--kind",
      "local",
    ],
    "cli-window": ["window", "2026-03-29|2026-10-25|month-1/now", "--zone", "Europe/London"],
    "cli-translate": [
      "translate",
      "inWindow(due_on, 'today/P5D') AND status IN ('planned', 'in hand')",
      "--table",
      "works",
      "--key",
      "order_no",
      "--key-type",
      "text",
      "--date",
      "due_on=dd/MM/yyyy",
      "--text",
      "status",
      "--as-of",
      "2026-11-25T09:00:00Z",
    ],
  };
  for (const [name, words] of Object.entries(commands)) {
    const done = await runCommand(words);
    const text = `$ npx orisma ${words.map(quoted).join(" ").replace(workbook, "inspections.xlsx")}\n${done.stdout}${done.stderr}`;
    await page.setContent(
      `<body style="margin:0;background:#12211f;color:#e8e2d2"><pre style="margin:0;padding:24px;font:14px/1.45 'DejaVu Sans Mono','Liberation Mono',monospace;white-space:pre-wrap;word-break:break-all"></pre></body>`,
    );
    await page.locator("pre").evaluate((element, content) => (element.textContent = content), text);
    await shot(page, name);
  }
}

/** A word as one types it. */
function quoted(word) {
  if (/^[\w./:=@,+-]+$/.test(word)) return word;
  return word.includes("'") ? `"${word}"` : `'${word}'`;
}

/** Not synchronous: the service that answers the command runs in this process. */
function runCommand(words) {
  return new Promise((resolve) => {
    execFile(
      process.execPath,
      [join(ROOT, "packages/cli/bin/orisma.mjs"), ...words],
      { env: { ...process.env, ORISMA_URL: service.url, ORISMA_KEY: service.key } },
      (_failure, stdout, stderr) => resolve({ stdout, stderr }),
    );
  });
}

async function shot(page, name) {
  if (only.length > 0 && !only.includes(name)) return;
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
  process.stderr.write(`docs/screenshots/${name}.png\n`);
}
