import { useQuery } from "@tanstack/react-query";
import { service } from "../service/service.js";
import { withoutZone } from "../dates/words.js";

/** The ladders: windows that lie side by side on any day, with their dates at an instant. */
export function Ladders(props: {
  readonly asOf: string;
  readonly onPick: (window: string) => void;
}) {
  const { asOf, onPick } = props;
  const ladders = useQuery({
    queryKey: ["ladders", asOf],
    queryFn: () => service.ladders({ asOf }),
    placeholderData: (before) => before,
  });
  if (ladders.data === undefined || ladders.data.length === 0) return null;
  return (
    <section aria-label="Ladders" className="mt-8">
      <h2 className="font-sentence text-xl">Ladders</h2>
      <p className="text-sm opacity-80">
        Their rungs follow each other without gaps or overlaps on every day.
      </p>
      {ladders.data.map(({ name, label, zone, rungs }) => (
        <div key={name} className="mt-3">
          <h3 className="font-semibold">
            {label} <span className="text-sm font-normal opacity-80">{zone}</span>
          </h3>
          <ol>
            {rungs.map((rung) => (
              <li key={rung.name} className="border-t border-base-300 py-1">
                <button
                  type="button"
                  className="link link-hover text-start"
                  onClick={() => onPick(rung.window)}
                >
                  {rung.label}
                </button>
                <p className="text-sm opacity-80">{withoutZone(rung.sentence)}</p>
              </li>
            ))}
          </ol>
        </div>
      ))}
    </section>
  );
}
