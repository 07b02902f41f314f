export { makeDataSource } from "./data-source.js";
export { runService, type RunOptions } from "./run.js";
export { startService, type Service, type ServiceOptions } from "./service.js";
