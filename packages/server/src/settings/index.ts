export {
  SettingsError,
  readSettings,
  settingsHelp,
  type DatabaseLogin,
  type HostAndPort,
  type Settings,
} from "./settings.js";
export { StateFolder } from "./state.js";
