export { freePort, startEngine, type Engine, type EngineOptions } from "./engine.js";
export {
  DatabaseUnavailable,
  Gateway,
  STATEMENT_LIMIT_S,
  TableChanged,
  TableReplaced,
  TooManyValues,
  TooSlow,
  planAgain,
  type GatewayUse,
  type Read,
  type ResultRow,
} from "./gateway.js";
export { CallerGone, forAll, whileAsked } from "./leaving.js";
export { MIGRATIONS } from "./migrations/index.js";
