import { Column, Entity, PrimaryColumn } from "typeorm";

/** What a caller used recently of a column's values, the latest first. */
@Entity("late_choices")
export class RecentChoice {
  /** The id of the key, or `session`. */
  @PrimaryColumn({ type: "varchar", length: 32 })
  caller: string;

  @PrimaryColumn({ type: "varchar", length: 64 })
  listing: string;

  @PrimaryColumn({ type: "varchar", length: 128 })
  column: string;

  @Column({ type: "json" })
  values: string[];
}
