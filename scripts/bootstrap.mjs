/**
 * Brings a fresh Debian machine to where Orisma can run, with Node's built-ins alone:
 * Debian packages, npm packages, built code. Each step that does something says so in a line.
 */
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import {
  accessSync,
  constants,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  writeFileSync,
} from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), "..");

/** A program that must be there, and the Debian package that brings it. */
const PROGRAMS = {
  database: {
    paths: ["/usr/sbin/mariadbd", "/usr/bin/mariadb-install-db"],
    package: "mariadb-server",
  },
  trace: { paths: ["/usr/bin/strace"], package: "strace" },
  units: { paths: ["/usr/bin/systemd-analyze"], package: "systemd" },
  browser: { paths: ["/usr/bin/chromium"], package: "chromium" },
};

/** What is built, from what, and how; a stamp with the hash of the sources says if it is old. */
const BUILDS = [
  {
    what: "the service and the command line",
    from: [
      "packages/core/src",
      "packages/contract/src",
      "packages/client/src",
      "packages/server/src",
      "packages/cli/src",
      "demo/src",
    ],
    output: "packages/server/dist",
    run: () => node("@typescript/native/bin/tsc", ["-b", "tsconfig.build.json"]),
  },
  {
    // In one file it begins in half the time that its modules take.
    what: "the command line in one file",
    from: ["packages/core/src", "packages/client/src", "packages/cli/src"],
    output: "packages/cli/dist",
    run: () =>
      node(
        "rolldown/bin/cli.mjs",
        [
          ...["packages/cli/dist/main.js", "--file", "packages/cli/dist/orisma.js"],
          ...["--format", "esm", "--platform", "node", "--log-level", "warn"],
        ],
        { quiet: true },
      ),
  },
  {
    what: "the console",
    from: [
      "packages/core/src",
      "packages/contract/src",
      "packages/client/src",
      "packages/console/src",
      "packages/console/index.html",
    ],
    output: "packages/console/dist",
    run: () =>
      node("vite/bin/vite.js", ["build", "--logLevel", "warn", "packages/console"], {
        // Whatever the shell, or a test that builds, has it to be.
        env: { NODE_ENV: "production" },
      }),
  },
];

/** Installs and builds what is missing or out of date; `needs` names entries of PROGRAMS. */
export function bootstrap(needs) {
  installDebianPackages(needs);
  installNpmPackages();
  for (const build of BUILDS) bringUpToDate(build);
}

function installDebianPackages(needs) {
  const missing = needs
    .map((need) => PROGRAMS[need])
    .filter(({ paths }) => !paths.every(isExecutable))
    .map((program) => program.package);
  if (missing.length === 0) return;
  const install = [
    "apt-get",
    ["install", "-y", "--no-install-recommends", "-o", "DPkg::Lock::Timeout=500", ...missing],
  ];
  const before = privilege(missing);
  timed(`installing Debian's ${missing.join(" and ")}`, () => {
    run(before, "apt-get", ["-o", "DPkg::Lock::Timeout=500", "update"], { quiet: true });
    run(before, ...install, { quiet: true });
  });
}

/** How to become root: not at all, by sudo without a question, or by asking the user to. */
function privilege(missing) {
  if (process.getuid?.() === 0) return [];
  const sudo = spawnSync("sudo", ["-n", "true"], { stdio: "ignore" });
  if (sudo.status === 0) return ["sudo", "-n", "--preserve-env=DEBIAN_FRONTEND"];
  fail(
    `Orisma needs ${missing.join(" and ")}, and may not install it here. Run this, then try again:\n` +
      `  sudo apt-get update && sudo apt-get install -y --no-install-recommends ${missing.join(" ")}`,
  );
}

function installNpmPackages() {
  const stamp = join(ROOT, "node_modules", ".orisma-lock");
  const wanted = hashOf(["package-lock.json"]);
  if (readIfThere(stamp) === wanted) return;
  timed("installing npm packages", () => {
    run([], "npm", ["ci", "--include=dev", "--no-audit", "--no-fund", "--loglevel=error"], {
      quiet: true,
    });
    writeFileSync(stamp, wanted);
  });
}

function bringUpToDate({ what, from, output, run: build }) {
  const stamp = join(ROOT, output, ".stamp");
  const configuration = ["package-lock.json", "tsconfig.base.json", "tsconfig.build.json"];
  const wanted = hashOf([...configuration, ...from]);
  if (readIfThere(stamp) === wanted) return;
  timed(`building ${what}`, () => {
    build();
    mkdirSync(dirname(stamp), { recursive: true });
    writeFileSync(stamp, wanted);
  });
}

/** One hash of the names and contents of files and folders, tests omitted. */
function hashOf(paths) {
  const hash = createHash("sha256");
  for (const path of paths.flatMap((each) => filesOf(join(ROOT, each)))) {
    hash.update(path.slice(ROOT.length)).update(readFileSync(path));
  }
  return hash.digest("hex");
}

function filesOf(path) {
  if (!existsSync(path)) return [];
  const entries = readdirSyncOrNull(path);
  if (entries === null) return [path];
  return entries
    .filter(({ name }) => !/\.test\.tsx?$/.test(name))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap(({ name }) => filesOf(join(path, name)));
}

function readdirSyncOrNull(path) {
  try {
    return readdirSync(path, { withFileTypes: true });
  } catch {
    return null;
  }
}

/** Runs a script of an npm package with this Node; its output is shown if it fails. */
export function node(script, args, options = {}) {
  run([], process.execPath, [join(ROOT, "node_modules", script), ...args], options);
}

/** Runs a program in the project's folder; one that fails ends this process. */
export function run(before, program, args, { quiet = false, env = {} } = {}) {
  const [first, ...rest] = [...before, program, ...args];
  const done = spawnSync(first, rest, {
    cwd: ROOT,
    env: { ...process.env, DEBIAN_FRONTEND: "noninteractive", ...env },
    stdio: quiet ? ["ignore", "pipe", "pipe"] : ["ignore", "inherit", "inherit"],
    encoding: "utf8",
    maxBuffer: 64 * 1024 * 1024,
  });
  if (done.status === 0) return;
  const output = quiet ? `\n${done.stdout ?? ""}${done.stderr ?? ""}` : "";
  fail(
    `${program} ${args.join(" ")} failed${done.error ? `: ${done.error.message}` : ""}.${output}`,
  );
}

/** Does a piece of work and says in a line what it was and how long it took. */
export function timed(what, work) {
  const started = performance.now();
  process.stderr.write(`orisma: ${what} … `);
  work();
  process.stderr.write(`${((performance.now() - started) / 1000).toFixed(1)} s\n`);
}

function fail(message) {
  process.stderr.write(`\norisma: ${message}\n`);
  process.exit(1);
}

function isExecutable(path) {
  try {
    accessSync(path, constants.X_OK);
    return true;
  } catch {
    return false;
  }
}

function readIfThere(path) {
  return existsSync(path) ? readFileSync(path, "utf8") : null;
}
