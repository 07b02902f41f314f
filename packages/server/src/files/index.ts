export { REFUSED_HEADINGS } from "./delimited.js";
export { lookAtFile, openFile, type FileLook } from "./open.js";
export { FILE_OPTIONS, type FileOptions } from "./options.js";
export { spool, type SpooledFile } from "./spool.js";
export { mixedRemark, statedType, type StatedCells } from "./stated-types.js";
export {
  type DateCells,
  type FileCell,
  type FileDescription,
  type FileFormat,
  type FileRow,
  type FileTable,
} from "./table.js";
