export { Admission, type AdmittedCall } from "./admission.js";
export { poolLimits, type CostClass, type PoolLimits } from "./limits.js";
