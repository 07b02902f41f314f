import { Column, Entity, PrimaryGeneratedColumn, Unique } from "typeorm";
import { MS } from "../database/index.js";

/** How somebody looks at a listing, kept under a name. */
@Entity("views")
@Unique("views_name", ["caller", "listing", "name"])
export class SavedView {
  @PrimaryGeneratedColumn({ type: "int", unsigned: true })
  id: number;

  /** The id of the person or the key that keeps it; `session` for the owner. */
  @Column({ type: "varchar", length: 32 })
  caller: string;

  @Column({ type: "varchar", length: 64 })
  listing: string;

  @Column({ type: "varchar", length: 64, collation: "utf8mb4_bin" })
  name: string;

  /** What is sent, by parameter. */
  @Column({ type: "json" })
  parameters: Readonly<Record<string, readonly string[]>>;

  @Column({ type: "boolean", default: false })
  isDefault: boolean;

  /** Milliseconds since 1970-01-01T00:00:00Z. */
  @Column({ type: "bigint", transformer: MS })
  savedAt: number;
}
