export { cql2Of } from "./from-filter.js";
export { readCql2, type Cql2Context } from "./to-filter.js";
export { cql2Json, cql2Text } from "./write.js";
export { readCql2Text } from "./read-text.js";
export type { Expression } from "./expression.js";
export { readCql2Json } from "./read-json.js";
