/**
 * Everything that the other packages of the project use of the core, floor by floor. It changes with
 * them: whoever embeds the core elsewhere uses `@orisma/core`.
 */
export * from "./faults/index.js";
export * from "./calendar/index.js";
export * from "./reading/index.js";
export * from "./windows/index.js";
export * from "./filters/index.js";
export * from "./sql/index.js";
export * from "./query/index.js";
export * from "./listings/index.js";
