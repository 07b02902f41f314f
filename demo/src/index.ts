export { closures, closuresJson, type Closure } from "./closures.js";
export { gaugesTable, gaugesTsv, levels, type Level } from "./gauges.js";
export { inspections, inspectionsXlsx, type Inspection } from "./inspections.js";
export { GAUGE_DAYS, SOURCES, WORKS, loadDemo } from "./load.js";
export { DAYS_OFF, LISTINGS, WORKS_RAISED } from "./listings.js";
export { locks, locksCsv, type Lock } from "./locks.js";
export { PASSAGES, passages, passagesNdjson, type Passage } from "./passages.js";
export { DEMO_SEED } from "./places.js";
export { workOrders, worksCsv, type WorkOrder } from "./works.js";
