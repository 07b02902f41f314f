export { AuditEntry } from "./entities.js";
export { noteBounds, noteForAudit } from "./note.js";
export { auditRoutes } from "./routes.js";
export { AuditTrail } from "./trail.js";
