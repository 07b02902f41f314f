import type { ListingDetails } from "@orisma/client";

/** The orders that a listing allows, each both ways. */
export function OrderEditor(props: {
  readonly listing: ListingDetails;
  readonly order: string;
  readonly onOrder: (order: string) => void;
}) {
  const { listing, order, onOrder } = props;
  const { labels = {}, shown, order: orders } = listing;
  return (
    <ul className="flex flex-wrap gap-x-8 gap-y-2">
      {orders.allowed.map((name) => {
        const type = shown.find((column) => column.name === name)?.type;
        const [up, down] =
          DIRECTIONS[type === "date" ? "date" : type === "text" ? "text" : "number"];
        return (
          <li key={name} className="flex items-center gap-2">
            <span className="font-medium">{labels[name] ?? name}</span>
            {[
              { value: name, words: up },
              { value: `-${name}`, words: down },
            ].map(({ value, words }) => (
              <button
                key={value}
                type="button"
                className="btn btn-sm aria-pressed:btn-primary"
                aria-pressed={order === value}
                aria-label={`${labels[name] ?? name}, ${words}`}
                onClick={() => onOrder(value)}
              >
                {words}
              </button>
            ))}
          </li>
        );
      })}
    </ul>
  );
}

const DIRECTIONS = {
  date: ["earliest first", "latest first"],
  text: ["from A", "from Z"],
  number: ["least first", "most first"],
} as const;
