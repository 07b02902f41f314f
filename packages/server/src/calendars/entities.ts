import type { Holiday } from "@orisma/contract";
import { Column, Entity, PrimaryColumn } from "typeorm";

/** A named list of days off. */
@Entity("holiday_lists")
export class HolidayList {
  @PrimaryColumn({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "json" })
  days: readonly Holiday[];

  /** Milliseconds since 1970. */
  @Column({ type: "bigint" })
  importedAt: number;
}
