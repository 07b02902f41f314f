/**
 * Which part may import which: the one matrix, from the ground up. A part may import those
 * that stand before it in its list, and nothing else of the project.
 */
export const PACKAGES = {
  core: [],
  client: ["core"],
  server: ["core"],
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

/** The server's capabilities stand on these, which stand on nothing of the server. */
export const SERVER_GROUND = ["database", "http"];

const PACKAGE_NAMES = {
  core: "@orisma/core",
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
  return [...packageRules(), ...floorRules(), ...serverRules()];
}

function packageRules() {
  return Object.entries(PACKAGES).map(([name, below]) => {
    const refused = Object.entries(PACKAGE_NAMES).filter(
      ([other]) => other !== name && !below.includes(other),
    );
    const patterns = refused.map(([other, specifier]) =>
      refuse(`^${specifier.replace("/", "\\/")}(?:\\/|$)`, `${name} may not import ${other}`),
    );
    const isCore = name === "core";
    return rule([`packages/${name}/src/**/*.{ts,tsx}`], isCore ? CORE_ALONE : patterns, {
      tests: !isCore,
    });
  });
}

/** The core has no I/O and no package: an import of it is a file of its own. */
const CORE_ALONE = [refuse("^[^.]", "the core imports nothing but its own files")];

/** Rules are not merged by the linter: the last one for a file counts, so each is complete. */
function floorRules() {
  return FLOORS.map((floor, index) => {
    const above = FLOORS.slice(index + 1);
    const others = FLOORS.slice(0, index);
    return rule(
      [`packages/core/src/${floor}/**/*.ts`],
      [
        ...CORE_ALONE,
        ...(above.length === 0
          ? []
          : [
              refuse(
                `^\\.\\.\\/(?:${above.join("|")})\\/`,
                `${floor} stands below ${above.join(", ")}`,
              ),
            ]),
        ...(others.length === 0
          ? []
          : [
              refuse(
                `^\\.\\.\\/(?:${others.join("|")})\\/(?!index\\.js$)`,
                "a floor is entered by its index.js",
              ),
            ]),
        refuse("^\\.\\.\\/(?:index\\.js)?$", "a floor does not import the whole core"),
      ],
      { tests: false },
    );
  });
}

function serverRules() {
  const patterns = [
    refuse(
      "^\\.\\.\\/(?:access|sources|listings|records|system)\\/",
      "the ground of the server imports no capability",
    ),
  ];
  return SERVER_GROUND.map((part) => rule([`packages/server/src/${part}/**/*.ts`], patterns));
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
