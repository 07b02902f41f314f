import ExcelJS from "exceljs";
import { PLACES } from "./places.js";
import { diceFor } from "./random.js";

/** One inspection, as the engineer's workbook has it. */
export interface Inspection {
  readonly inspection: string;
  readonly structure: string;
  /** Day number of the 1900 system, with the time as its fraction; text where a clerk typed it. */
  readonly inspected: number | string;
  /** Whole, and often empty. */
  readonly due: number | string | null;
  readonly grade: string;
  readonly remarks: string;
}

const INSPECTIONS = 900;
/** The day 1970-01-01 in the 1900 system. */
const SERIAL_1970 = 25_569;
const GRADES = ["A", "B", "B", "C", "D"] as const;
const REMARKS = [
  "",
  "",
  "sound",
  "weeping joints",
  "see photographs",
  "repeat after frost",
] as const;

/** The inspections as they stand on a day (days since 1970-01-01), the earliest first. */
export function inspections(seed: number, today: number): readonly Inspection[] {
  const days: Inspection[][] = [];
  let count = 0;
  for (let day = today; count < INSPECTIONS; day--) {
    const number = diceFor(seed, INSPECTIONS_PLACE, day).pick([0, 0, 1, 1, 2]);
    days.push(Array.from({ length: number }, (_, index) => inspection(seed, day, index)));
    count += number;
  }
  return days.reverse().flat().slice(-INSPECTIONS);
}

function inspection(seed: number, day: number, index: number): Inspection {
  const dice = diceFor(seed, INSPECTIONS_PLACE, day, index);
  // Quarters of an hour from eight to four; half of the clerks leave the time out.
  const time = dice.below(2) === 0 ? 0 : (32 + dice.below(32)) / 96;
  const isTyped = dice.below(180) === 0;
  const due = SERIAL_1970 + day + dice.pick([90, 180, 365, 730]) + dice.below(20);
  const wanted = dice.below(20);
  return {
    inspection: `I-${day}-${index + 1}`,
    structure: dice.pick(PLACES),
    inspected: isTyped ? "31/02/2025" : SERIAL_1970 + day + time,
    due: wanted < 9 ? null : wanted === 9 ? "after stoppage" : due,
    grade: dice.pick(GRADES),
    remarks: dice.pick(REMARKS),
  };
}

/** Separates the dice of inspections from those of other records of a day. */
const INSPECTIONS_PLACE = -5;

/** The inspections as a workbook: banners above, a note below, a second sheet of words. */
export async function inspectionsXlsx(seed: number, today: number): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook();
  const sheet = workbook.addWorksheet("Inspections");
  sheet.addRow(["Brindle Vale Navigation"]);
  sheet.addRow(["Inspections of structures, kept by the engineer"]);
  sheet.addRow([]);
  sheet.addRow(["Inspection", "Structure", "Inspected", "Next due", "Grade", "Remarks"]);
  for (const each of inspections(seed, today)) {
    const { inspection: id, structure, inspected, due, grade, remarks } = each;
    const row = sheet.addRow([id, structure, inspected, due, grade, remarks || null]);
    if (typeof inspected === "number") {
      const hasTime = !Number.isInteger(inspected);
      row.getCell(3).numFmt = hasTime ? "dd/mm/yyyy hh:mm" : "dd/mm/yyyy";
    }
    if (typeof due === "number") row.getCell(4).numFmt = "dd/mm/yyyy";
  }
  sheet.addRow([]);
  sheet.addRow(["Blank in “Next due” means that no date was set."]);
  workbook.addWorksheet("Read me").addRow(["Ask the engineer before changing a row."]);
  return new Uint8Array(await workbook.xlsx.writeBuffer());
}
