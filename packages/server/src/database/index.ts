export { freePort, startEngine, type Engine, type EngineOptions } from "./engine.js";
export {
  DatabaseUnavailable,
  Gateway,
  STATEMENT_LIMIT_S,
  TooSlow,
  type ResultRow,
} from "./gateway.js";
