import js from "@eslint/js";
import { defineConfig, globalIgnores } from "eslint/config";
import ts from "typescript-eslint";
import { layerRules } from "./scripts/layers.mjs";

const CLOCK = [
  {
    selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
    message: "the core reads no clock: take the instant as a parameter",
  },
  {
    selector: "NewExpression[callee.name='Date'][arguments.length=0]",
    message: "the core reads no clock: take the instant as a parameter",
  },
];

export default defineConfig(
  globalIgnores(["**/dist/**", "lint/fixtures/**", ".orisma/**"]),
  js.configs.recommended,
  {
    files: ["**/*.{ts,tsx}"],
    // The rules that need types are in .oxlintrc.json, for a linter that has the compiler's speed.
    extends: [ts.configs.strict, ts.configs.stylistic],
    rules: {
      "@typescript-eslint/no-unused-vars": [
        "error",
        { argsIgnorePattern: "^_", varsIgnorePattern: "^_" },
      ],
      "@typescript-eslint/no-extraneous-class": "off",
      "no-console": "error",
    },
  },
  { files: ["packages/core/src/**/*.ts"], rules: { "no-restricted-syntax": ["error", ...CLOCK] } },
  {
    files: ["**/*.mjs"],
    languageOptions: {
      globals: {
        process: "readonly",
        console: "readonly",
        performance: "readonly",
        document: "readonly",
      },
    },
  },
  ...layerRules(),
);
