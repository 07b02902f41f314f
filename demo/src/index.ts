export { closures, closuresJson, type Closure } from "./closures.js";
export { gaugesTable, gaugesTsv, levels, type Level } from "./gauges.js";
export { inspections, inspectionsXlsx, type Inspection } from "./inspections.js";
export { GAUGE_DAYS, LISTINGS, SOURCES, WORKS, WORKS_RAISED, loadDemo } from "./load.js";
export { locks, locksCsv, type Lock } from "./locks.js";
export { PASSAGES, passages, passagesNdjson, type Passage } from "./passages.js";
export { DEMO_SEED } from "./places.js";
export { workOrders, worksCsv, type WorkOrder } from "./works.js";
