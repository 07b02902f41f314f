export {
  SettingsError,
  readSettings,
  settingsHelp,
  type DatabaseLogin,
  type HostAndPort,
  type IssuerSettings,
  type Settings,
} from "./settings.js";
export { renameDurably, writeDurably } from "./durable.js";
export { SecretError, StateFolder } from "./state.js";
