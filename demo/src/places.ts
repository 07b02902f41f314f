/** The seed of the demo data; the README quotes what comes of it. */
export const DEMO_SEED = 1793;

/** Where the trust has work to do. */
export const PLACES = [
  "Brindle Top Lock",
  "Brindle Middle Lock",
  "Brindle Bottom Lock",
  "Tansy Lock",
  "Hollin Weir",
  "Marsh End Basin",
  "Quarry Wharf",
  "Fennel Bridge",
  "Long Pound",
  "Vale Aqueduct",
] as const;

interface LockName {
  readonly number: string;
  readonly name: string;
}

/** The locks of the navigation, from the top down, with their numbers. */
export const LOCKS: readonly [LockName, ...LockName[]] = [
  { number: "L1", name: "Brindle Top Lock" },
  { number: "L2", name: "Brindle Middle Lock" },
  { number: "L3", name: "Brindle Bottom Lock" },
  { number: "L4", name: "Tansy Lock" },
  { number: "L5", name: "Hollin Lock" },
  { number: "L6", name: "Quarry Lock" },
  { number: "L7", name: "Fennel Lock" },
  { number: "L8", name: "Écluse Vale" },
  { number: "L9", name: "Marsh End Lock" },
];
