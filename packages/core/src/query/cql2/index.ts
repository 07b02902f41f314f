export { cql2Of } from "./from-filter.js";
export { cql2OfQuery } from "./from-query.js";
export { readCql2, readCql2Query, type Cql2Context, type Cql2Reading } from "./to-query.js";
export { cql2Json, cql2Text } from "./write.js";
export { readCql2Text } from "./read-text.js";
export type { Expression } from "./expression.js";
export { readCql2Json } from "./read-json.js";
