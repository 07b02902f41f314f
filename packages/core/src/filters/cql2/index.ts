export { cql2Of } from "./from-filter.js";
export { readCql2, type Cql2Context } from "./to-filter.js";
export { cql2Json, cql2Text } from "./write.js";
export { readCql2Text, type ReadExpression } from "./read-text.js";
export type { Expression, Operation } from "./expression.js";
