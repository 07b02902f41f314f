const swc = [
  "@swc/jest",
  {
    swcrc: false,
    sourceMaps: "inline",
    module: { type: "es6" },
    jsc: {
      target: "es2022",
      keepClassNames: true,
      parser: { syntax: "typescript", tsx: true, decorators: true },
      transform: { legacyDecorator: true, decoratorMetadata: true, useDefineForClassFields: false },
    },
  },
];

/** What all projects share; packages of the workspace are taken from their sources. */
const common = {
  testEnvironment: "node",
  extensionsToTreatAsEsm: [".ts", ".tsx"],
  transform: { "^.+\\.tsx?$": swc },
  moduleNameMapper: {
    "^@orisma/core/(internal|names)$": "<rootDir>/packages/core/src/$1.ts",
    "^@orisma/(core|contract|client|server)$": "<rootDir>/packages/$1/src/index.ts",
    "^@orisma/demo$": "<rootDir>/demo/src/index.ts",
    "^(\\.{1,2}/.*)\\.js$": "$1",
  },
  modulePathIgnorePatterns: ["/dist/"],
};

const project = (displayName, roots, more = {}) => ({
  ...common,
  ...more,
  displayName,
  roots: roots.map((root) => `<rootDir>/${root}`),
  testMatch: ["**/*.test.ts"],
});

const WITH_DATABASE = {
  globalSetup: "<rootDir>/test/database.ts",
  globalTeardown: "<rootDir>/test/database-end.ts",
};

export default {
  projects: [
    project("core", ["packages/core"]),
    project("client", ["packages/client"]),
    project("server", ["packages/server"], WITH_DATABASE),
    project("cli", ["packages/cli"], WITH_DATABASE),
    project("console", ["packages/console"], WITH_DATABASE),
    project("demo", ["demo"], WITH_DATABASE),
    project("lint", ["lint"]),
  ],
  // One more than the runner takes by default of two processors: databases and browsers work beside it.
  maxWorkers: 2,
  // Modules of suites that have ended are never freed, nor is their code, for which there is little room.
  workerIdleMemoryLimit: "400MB",
  // A test that hangs ends; one that is slow does not fail: some machines take ten times as long as others.
  testTimeout: 600_000,
};
