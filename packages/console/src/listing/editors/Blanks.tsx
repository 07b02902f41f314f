import type { ListingDetails } from "@orisma/client";
import { typedCondition, type TypedComparison } from "@orisma/core/internal";
import { totalText, useCounts } from "../counts.js";
import { partsOf, typed } from "../conditions.js";
import { isCompoundOn, parametersOn, withCondition, withoutColumn } from "../narrowing.js";
import { valueOf, withParameters, type PageState } from "../state.js";

export interface BlanksProps {
  readonly listing: ListingDetails;
  readonly column: string;
  readonly isDate: boolean;
  readonly state: PageState;
  readonly onGo: (state: PageState) => void;
}

interface Offer {
  /** The same while its words change, so that whoever pressed it stays at it. */
  readonly key: string;
  readonly words: string;
  readonly state: PageState;
  readonly isChosen: boolean;
  /** The page whose records have to be there for the offer to be made; null for always. */
  readonly ifAny: PageState | null;
}

/** Records without a value, beside those with one, only, or not; what there is none of is not offered. */
export function Blanks(props: BlanksProps) {
  const { listing, onGo } = props;
  const offers = offersOf(props);
  const counts = useCounts(
    listing,
    offers.flatMap(({ state, ifAny }) => (ifAny === null ? [] : [state, ifAny])),
  );
  if (offers.length === 0 || listing.choices?.[props.column]?.blanks === false) return null;
  const possible = offers.filter(
    ({ ifAny, isChosen }) => isChosen || ifAny === null || counts.of(ifAny)?.total !== 0,
  );
  return (
    <section aria-label="Without a value">
      <h3 className="text-sm font-medium">Without a value</h3>
      <ul className="flex flex-col items-start text-sm">
        {possible.map(({ key, words, state, isChosen, ifAny }) => {
          const count = ifAny === null ? undefined : counts.of(state);
          // What may yet not be there cannot be pressed, nor have the focus.
          const isKnown =
            isChosen || ifAny === null || !counts.isComing || counts.of(ifAny) !== undefined;
          return (
            <li key={key} className="flex min-h-7 items-center">
              {isKnown ? (
                <button
                  type="button"
                  className="min-h-7 cursor-pointer text-start hover:underline aria-pressed:font-semibold"
                  aria-pressed={isChosen}
                  onClick={() => onGo(state)}
                >
                  {words}
                  {count === undefined ? "" : `, ${totalText(count)}`}
                </button>
              ) : (
                <span className="skeleton h-5 w-28" aria-hidden />
              )}
            </li>
          );
        })}
        {possible.length === 0 ? (
          <li className="flex min-h-8 items-center">No record is without one.</li>
        ) : null}
      </ul>
    </section>
  );
}

const ONLY_BLANK = { key: "blank", words: "only blank" } as const;

function offersOf({ listing, column, isDate, state }: BlanksProps): readonly Offer[] {
  const [parameter] = parametersOn(listing, column);
  const clear = withoutColumn(state, listing, column);
  const conditions = (partsOf(state, listing) ?? []).map(typedCondition);
  const has = (comparison: TypedComparison) =>
    conditions.some(
      (each) => each?.column === column && each.comparison === comparison && !each.isNegated,
    );
  const offers: Offer[] = [];
  if (parameter !== undefined) {
    const name = `${parameter.name}.blank`;
    const policy = valueOf(state, name) || parameter.blanks;
    const isNarrowed = parametersOn(listing, column).some((each) => valueOf(state, each.name));
    if (isNarrowed && policy !== "include") {
      const included = withParameters(state, { [name]: "include" });
      offers.push({
        key: "beside",
        words: "include blanks",
        state: included,
        isChosen: false,
        ifAny: null,
      });
    }
    if (isNarrowed && policy === "include") {
      const excluded = withParameters(state, {
        [name]: parameter.blanks === "exclude" ? [] : "exclude",
      });
      offers.push({
        key: "beside",
        words: "leave the blank ones out",
        state: excluded,
        isChosen: false,
        ifAny: null,
      });
    }
    const only = withParameters(clear, { [name]: "only" });
    offers.push({ ...ONLY_BLANK, state: only, isChosen: policy === "only", ifAny: only });
  } else {
    const only = withCondition(state, listing, typed(column, "blank"));
    offers.push({ ...ONLY_BLANK, state: only, isChosen: has("blank"), ifAny: only });
  }
  if (isCompoundOn(listing, column)) {
    const given = withCondition(state, listing, typed(column, "dated"));
    const isGiven = has("dated");
    // Where there is no blank one, all of them have a value, or one that cannot be read.
    const blank = withCondition(state, listing, typed(column, "blank"));
    offers.push({
      key: "given",
      words: "only with a value",
      state: given,
      isChosen: isGiven,
      ifAny: blank,
    });
    if (isDate) {
      const unreadable = withCondition(state, listing, typed(column, "unreadable"));
      const isChosen = has("unreadable");
      offers.push({
        key: "unreadable",
        words: "only unreadable",
        state: unreadable,
        isChosen,
        ifAny: unreadable,
      });
    }
  }
  return offers;
}
