import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { pathToFileURL } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import { ROOT } from "../../../test/service.js";

const scratch = mkdtempSync(join(tmpdir(), "orisma-durable-"));
afterAll(() => rmSync(scratch, { recursive: true, force: true }));

/** What a script does to files, as the system sees it: the name of the call, and the file's own name. */
function traced(script: string): readonly (readonly [call: string, file: string])[] {
  const log = join(scratch, "trace");
  const calls = "openat,write,pwrite64,fsync,fdatasync,rename,renameat,renameat2";
  const node = [process.execPath, "--input-type=module", "--eval", script];
  const done = spawnSync("strace", ["-f", "-y", "-o", log, "-e", `trace=${calls}`, ...node], {
    encoding: "utf8",
  });
  if (done.status !== 0) throw new Error(done.stderr);
  return readFileSync(log, "utf8")
    .split("\n")
    .filter((line) => line.includes(scratch) && !line.includes("ENOENT"))
    .flatMap((line) => {
      const [, call, rest = ""] = /^\d+ +(\w+)\((.*)$/.exec(line) ?? [];
      if (call === undefined) return [];
      // A file by its handle is written 17</path>, one by its name "path".
      const paths = [...rest.matchAll(/<(\/[^>]*)>|"(\/[^"]*)"/g)].map(
        (found) => found[1] ?? found[2],
      );
      const isRename = call.startsWith("rename");
      return [
        [isRename ? "rename" : call, paths.map((each) => basename(each ?? "")).join(" ")],
      ] as const;
    })
    .filter(([call]) => call !== "openat");
}

const SETTINGS = pathToFileURL(join(ROOT, "packages/server/dist/settings/index.js")).href;

describe("what is kept in the state folder", () => {
  test.each([
    ["secret", "folder.secret()"],
    ["own-key", 'folder.keepOwnKey("orisma_example")'],
    ["client.json", 'folder.writeClientFile({ url: "http://127.0.0.1", key: "orisma_example" })'],
    ["service.json", "folder.lock()"],
    ["demo-loaded", 'folder.mark("demo-loaded")'],
  ])("%s reaches the disk before its name does, and its name before anything else", (name, act) => {
    const state = join(scratch, "state");
    const calls = traced(
      `import { StateFolder } from ${JSON.stringify(SETTINGS)};
       const folder = new StateFolder(${JSON.stringify(state)});
       ${act};`,
    );
    const fresh = `${name}.new`;
    const written = name === "demo-loaded" ? [] : [["write", fresh]];
    expect(calls).toEqual([
      ...written,
      ["fsync", fresh],
      ["rename", `${fresh} ${name}`],
      ["fsync", "state"],
    ]);
    expect(statSync(join(state, name)).mode & 0o777).toBe(0o600);
  });

  test("a secret gives its place up only under another name, until nothing needs it", () => {
    const state = join(scratch, "state");
    const calls = traced(
      `import { StateFolder } from ${JSON.stringify(SETTINGS)};
       new StateFolder(${JSON.stringify(state)}).newSecret();`,
    );
    expect(calls).toEqual([
      ["rename", "secret secret.before"],
      ["fsync", "state"],
      ["write", "secret.new"],
      ["fsync", "secret.new"],
      ["rename", "secret.new secret"],
      ["fsync", "state"],
    ]);
  });
});
