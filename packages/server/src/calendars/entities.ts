import { Column, Entity, PrimaryColumn } from "typeorm";

/** A day off, and what it is called. */
export interface Holiday {
  /** In ISO 8601. */
  readonly day: string;
  readonly label: string;
}

/** A named list of days off. */
@Entity("holiday_lists")
export class HolidayList {
  @PrimaryColumn({ type: "varchar", length: 64 })
  name: string;

  @Column({ type: "json" })
  days: readonly Holiday[];

  /** Milliseconds since 1970. */
  @Column({ type: "bigint" })
  takenAt: number;
}
