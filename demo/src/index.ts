export { WORKS, WORKS_RAISED, loadDemo } from "./load.js";
export { DEMO_SEED, workOrders, worksCsv, type WorkOrder } from "./works.js";
