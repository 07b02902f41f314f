export { Circuit } from "./circuit.js";
export { DISK_FULL, DiskFull, DiskSpace, isDiskFull } from "./disk.js";
export { freePort, startEngine, type Engine, type EngineOptions } from "./engine.js";
export {
  ClientDisconnected,
  Gateway,
  isUnavailable,
  STATEMENT_LIMIT_S,
  TableChanged,
  TableReplaced,
  TooManyValues,
  TooSlow,
  planAgain,
  type GatewayUse,
  type Read,
  type Run,
  type ResultRow,
} from "./gateway.js";
export { TableGate } from "./table-gate.js";
export { DatabaseUnavailable } from "./unavailable.js";
export { within } from "./within.js";
export { MIGRATIONS } from "./migrations/index.js";
export { MS, MS_OR_NULL } from "./milliseconds.js";
