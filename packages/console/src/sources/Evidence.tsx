import { nameOf, type ColumnProfile } from "@orisma/core/internal";
import { fieldsOf } from "./draft.js";

/** Readings that are shown at most. */
const MAX_SHOWN = 6;

/** What speaks for each reading of a column, beside the best; each is taken in one act. */
export function Evidence(props: {
  readonly column: ColumnProfile;
  /** The reading of the form, by its name. */
  readonly taken: string | null;
  readonly onPick: (fields: ReturnType<typeof fieldsOf>) => void;
}) {
  const { column, taken, onPick } = props;
  const { candidates, rivals } = column.recognition;
  const [best] = candidates;
  if (best === undefined || candidates.length + rivals.length < 2) return null;
  const rivalOf = new Map(rivals.map((rival) => [nameOf(rival.reading), rival]));
  const rows = candidates.slice(0, MAX_SHOWN).map((candidate) => {
    const name = nameOf(candidate.reading);
    return { ...candidate, name, rival: rivalOf.get(name) };
  });
  const more = candidates.length - rows.length;
  return (
    <section aria-label="Evidence" className="overflow-x-auto lg:col-span-2">
      <table className="table table-sm w-auto tabular-nums">
        <thead>
          <tr>
            <th scope="col">Reading</th>
            <th scope="col" className="text-end">
              Fits
            </th>
            <th scope="col" className="text-end" title="Cells that fit both, with another date">
              Differs
            </th>
            <th scope="col" className="text-end" title="Cells that are dates only so">
              Only so
            </th>
            <th scope="col">From, to</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, reading, fits, earliest, latest, rival }, index) => (
            <tr key={name}>
              <th scope="row" className="font-semibold whitespace-nowrap">
                {name}
              </th>
              <td className="text-end">{countText(fits)}</td>
              <td className="text-end">{countText(rival?.wouldChange)}</td>
              <td className="text-end">
                {countText(index === 0 ? onlyBest(rivals) : rival?.onlyRival)}
              </td>
              <td className="whitespace-nowrap">
                {earliest} – {latest}
              </td>
              <td>
                {name === taken ? (
                  <span className="opacity-80">taken</span>
                ) : (
                  <button
                    type="button"
                    className="btn btn-xs"
                    aria-label={`Take ${name}`}
                    onClick={() => onPick(fieldsOf(reading))}
                  >
                    Take
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {more <= 0 ? null : <p className="text-sm opacity-80">{more} more fit fewer cells.</p>}
    </section>
  );
}

/** Cells that only the best reading fits, beside the rival that leaves fewest of them; undefined for no rivals. */
function onlyBest(rivals: readonly { readonly onlyBest: number }[]): number | undefined {
  return rivals.length === 0 ? undefined : Math.min(...rivals.map((rival) => rival.onlyBest));
}

/** Of what was not compared, as it fits far fewer cells, nothing is said. */
function countText(count: number | undefined): string {
  return count?.toLocaleString("en-GB") ?? "";
}
