export { REFUSED_HEADINGS } from "./delimited.js";
export { inspectFile, openFile } from "./open.js";
export { LARGEST_FILE, spool, type SpooledFile } from "./spool.js";
export { mixedRemark, statedType, type StatedCells } from "./stated-types.js";
export { type FileCell, type FileRow, type FileTable } from "./table.js";
