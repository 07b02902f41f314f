import { Suspense, type ReactNode } from "react";
import { Link, useLocation } from "react-router";

/** Opens and closes a part of the page; the address says so, so that a link shows it. */
export function Folded(props: {
  readonly place: string;
  readonly open: string;
  readonly close: string;
  readonly children: ReactNode;
}) {
  const { hash, search } = useLocation();
  const isOpen = hash === props.place;
  return (
    <section className="mt-6 border-t border-base-300 pt-4">
      <h2 className="mb-4 font-sentence text-xl">
        <Link
          to={{ search, hash: isOpen ? "" : props.place }}
          className="link"
          role="button"
          aria-expanded={isOpen}
          preventScrollReset
        >
          {isOpen ? props.close : props.open}
        </Link>
      </h2>
      {isOpen ? (
        <Suspense fallback={<div className="skeleton h-64 w-full" />}>{props.children}</Suspense>
      ) : null}
    </section>
  );
}
