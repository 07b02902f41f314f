import { join } from "node:path";
import { noCycles } from "./cycles.mjs";

const PACKAGES_FOLDER = join(import.meta.dirname, "..", "packages");

/**
 * Which part may import which: the one matrix, from the ground up. A part may import those
 * that stand before it in its list, and nothing else of the project.
 */
export const PACKAGES = {
  core: [],
  contract: ["core"],
  client: ["contract", "core"],
  server: ["contract", "core"],
  cli: ["client", "core"],
  console: ["client", "core"],
};

/** Packages from outside that the core may not have: it has none at all. */
export const FLOORS = [
  "faults",
  "calendar",
  "reading",
  "windows",
  "filters",
  "sql",
  "query",
  "listings",
];

/** The folders of the server, from the ground up: each may import those before it, by their index. */
export const SERVER_FOLDERS = [
  "settings",
  "database",
  "http",
  "admission",
  "access",
  "audit",
  "dates",
  "calendars",
  "windows",
  "filters",
  "attached",
  "sources",
  "imports",
  "listings",
  "records",
  "edits",
  "feeds",
  "views",
  "deliveries",
  "pages",
  "system",
  "upkeep",
  "openapi",
  "service",
];

const PACKAGE_NAMES = {
  core: "@orisma/core",
  contract: "@orisma/contract",
  client: "@orisma/client",
  server: "@orisma/server",
  cli: "orisma",
  console: "@orisma/console",
};

/**
 * The lint configuration that enforces the matrix.
 * @returns {import("eslint").Linter.Config[]}
 */
export function layerRules() {
  return [...packageRules(), ...floorRules(), ...serverRules(), ...cycleRules()];
}

function packageRules() {
  return Object.keys(PACKAGES).map((name) => {
    const isCore = name === "core";
    return rule([`packages/${name}/src/**/*.{ts,tsx}`], isCore ? CORE_ALONE : otherPackages(name), {
      tests: !isCore,
    });
  });
}

/** What a package may not import of the others. */
function otherPackages(name) {
  return Object.entries(PACKAGE_NAMES)
    .filter(([other]) => other !== name && !PACKAGES[name].includes(other))
    .map(([other, specifier]) =>
      refuse(`^${specifier.replace("/", "\\/")}(?:\\/|$)`, `${name} may not import ${other}`),
    );
}

/** The core has no I/O and no package: an import of it is a file of its own. */
const CORE_ALONE = [refuse("^[^.]", "the core imports nothing but its own files")];

/** Rules are not merged by the linter: the last one for a file counts, so each is complete. */
function floorRules() {
  return orderRules("core", FLOORS, "floor", [
    ...CORE_ALONE,
    refuse("^\\.\\.\\/(?:index\\.js)?$", "a floor does not import the whole core"),
  ]).map((each) => ({ ...each, ignores: ["**/*.test.ts"] }));
}

function serverRules() {
  return orderRules("server", SERVER_FOLDERS, "folder", [
    ...otherPackages("server"),
    refuse("^(?:\\.\\.\\/)+index\\.js$", "a folder does not import the whole server"),
  ]);
}

/** The folders of a package in their order: each imports only those below it, by their doors. */
function orderRules(name, folders, word, more) {
  return folders.map((folder, index) => {
    const above = folders.slice(index + 1);
    const below = folders.slice(0, index);
    return rule(
      [`packages/${name}/src/${folder}/**/*.ts`],
      [
        ...more,
        ...(above.length === 0
          ? []
          : [
              refuse(
                `^(?:\\.\\.\\/)+(?:${above.join("|")})\\/`,
                `${folder} stands below ${above.join(", ")}`,
              ),
            ]),
        ...(below.length === 0
          ? []
          : [
              refuse(
                `^(?:\\.\\.\\/)+(?:${below.join("|")})\\/(?!index\\.js$)`,
                `a ${word} is entered by its index.js`,
              ),
            ]),
      ],
    );
  });
}

/** No file imports another that leads back to it, types included. */
function cycleRules() {
  return Object.keys(PACKAGES).map((name) => ({
    files: [`packages/${name}/src/**/*.{ts,tsx}`],
    plugins: { orisma: { rules: { "no-cycles": noCycles } } },
    rules: { "orisma/no-cycles": ["error", join(PACKAGES_FOLDER, name, "src")] },
  }));
}

function refuse(regex, message) {
  return { regex, message };
}

function rule(files, patterns, { tests = true } = {}) {
  return {
    files,
    ...(tests ? {} : { ignores: ["**/*.test.ts"] }),
    rules: { "no-restricted-imports": ["error", { patterns }] },
  };
}
