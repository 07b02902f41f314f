export { freePort, startEngine, type Engine, type EngineOptions } from "./engine.js";
export {
  DatabaseUnavailable,
  Gateway,
  STATEMENT_LIMIT_S,
  TooManyValues,
  TooSlow,
  type Read,
  type ResultRow,
} from "./gateway.js";
