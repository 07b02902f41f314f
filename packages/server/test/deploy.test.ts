import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, test } from "@jest/globals";
import { settingsHelp } from "../src/settings/index.js";
import { ROOT } from "../../../test/service.js";

const scratch = mkdtempSync(join(tmpdir(), "orisma-deploy-"));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

const read = (path: string) => readFileSync(join(ROOT, path), "utf8");

describe("the unit of systemd", () => {
  test("is one that systemd takes, and leaves more time to end than a request may take", () => {
    const path = join(scratch, "orisma.service");
    // Node may lie elsewhere on this machine.
    const unit = read("deploy/orisma.service").replace("/usr/bin/node", process.execPath);
    writeFileSync(path, unit);
    const checked = spawnSync("systemd-analyze", ["verify", path], { encoding: "utf8" });
    const about = `${checked.stdout}${checked.stderr}`
      .split("\n")
      .filter((line) => line.includes("orisma.service"));
    expect([checked.status, about]).toEqual([0, []]);
    writeFileSync(path, unit.replace("ExecStart=/", "ExecStart="));
    const wrong = spawnSync("systemd-analyze", ["verify", path], { encoding: "utf8" });
    expect(wrong.status).not.toBe(0);
    expect(Number(/^TimeoutStopSec=(\d+)$/m.exec(unit)?.[1])).toBeGreaterThan(30 + 60);
  });
});

describe("the settings", () => {
  test("are all in the help of the start command, and in the page for whoever runs it", () => {
    const started = spawnSync(process.execPath, [join(ROOT, "scripts/start.mjs"), "--help"], {
      encoding: "utf8",
      env: { ...process.env, NODE_OPTIONS: "" },
    });
    const names = settingsHelp().match(/ORISMA_[A-Z_]+(?= {2,})/g) ?? [];
    expect(names.length).toBeGreaterThan(8);
    for (const name of names) {
      expect(started.stdout).toContain(`  ${name} `);
      expect(read("docs/operating.md")).toContain(`| \`${name}\``);
    }
    for (const [name] of read("deploy/orisma.service").matchAll(/ORISMA_[A-Z_]+/g)) {
      expect(names).toContain(name);
    }
  });
});
