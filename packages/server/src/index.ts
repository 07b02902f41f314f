export { startEngine, freePort, type Engine } from "./database/index.js";
export {
  makeDataSource,
  runService,
  startService,
  type RunOptions,
  type Service,
  type ServiceOptions,
} from "./service/index.js";
export {
  SettingsError,
  readSettings,
  type DatabaseLogin,
  type Settings,
} from "./settings/index.js";
