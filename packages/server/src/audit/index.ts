export { AuditEntry } from "./entities.js";
export { noteForAudit } from "./note.js";
export { auditRoutes } from "./routes.js";
export { AuditTrail } from "./trail.js";
