export { fault, withLocation, type Fault, type FaultCode, type FaultPlace } from "./fault.js";
export { nearest, nearestName, oneOf } from "./nearest.js";
export { FAULT_CODES, renderFault, type RenderedFault } from "./render.js";
export type { FaultFacts } from "./registry.js";
export { Refused, catchFault } from "./refused.js";
export { failure, success, type Failure, type Result } from "./result.js";
export {
  notice,
  renderNotice,
  type Notice,
  NOTICE_CODES,
  type NoticeCode,
  type NoticeFacts,
  type RenderedNotice,
} from "./notice.js";
export { FAULT_MEANINGS } from "./meanings.js";
