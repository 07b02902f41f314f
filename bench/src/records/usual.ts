/** What most people write: a repository, hydrated entities, `Between`, find and count. */
import "reflect-metadata";
import express from "express";
import { Between, Column, DataSource, Entity, In, PrimaryColumn } from "typeorm";
import { rivalTask } from "./rivals.js";

const { login, table, key, port } = rivalTask();

@Entity(table)
class Work {
  @PrimaryColumn({ type: "varchar" })
  id: string;
  @Column({ type: "mediumtext", name: "c1" })
  order: string;
  @Column({ type: "date", name: "c2" })
  raised: string;
  @Column({ type: "mediumtext", name: "c3" })
  task: string;
  @Column({ type: "mediumtext", name: "c4" })
  status: string;
  @Column({ type: "bigint", name: "c5" })
  cost: string;
}

const source = await new DataSource({
  type: "mariadb",
  host: login.host,
  port: login.port,
  username: login.user,
  password: login.password,
  database: login.database,
  entities: [Work],
  timezone: "Z",
  poolSize: 10,
}).initialize();
const works = source.getRepository(Work);

const app = express();
app.get("/works", async (request, response) => {
  if (request.headers.authorization !== `Bearer ${key}`) {
    response.status(401).json({ error: "key" });
    return;
  }
  const { from, to, status, least, most } = request.query as unknown as Readonly<
    Record<"from" | "to" | "least" | "most", string>
  > & { readonly status: readonly string[] };
  const [records, total] = await works.findAndCount({
    where: { raised: Between(from, to), status: In(status), cost: Between(least, most) },
    order: { raised: "DESC", id: "DESC" },
    take: 50,
  });
  response.json({ records, total });
});
app.listen(port, "127.0.0.1", () => process.send?.("ready"));
