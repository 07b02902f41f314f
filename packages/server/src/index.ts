export { startEngine, freePort, type Engine } from "./database/index.js";
export { makeDataSource } from "./data-source.js";
export { runService, type RunOptions } from "./run.js";
export { startService, type Service, type ServiceOptions } from "./service.js";
export { SettingsError, readSettings, type DatabaseLogin, type Settings } from "./settings.js";
