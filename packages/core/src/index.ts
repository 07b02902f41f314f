/**
 * The computation of Orisma: no I/O, no clock, no framework. Floors from the ground up; an
 * arrow between them only points down.
 */
export * from "./faults/index.js";
export * from "./calendar/index.js";
export * from "./reading/index.js";
export * from "./windows/index.js";
export * from "./filters/index.js";
export * from "./sql/index.js";
export * from "./query/index.js";
export * from "./listings/index.js";
