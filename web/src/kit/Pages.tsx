/** A long list a page at a time; nothing where one page holds it all. */
import { lazy, Suspense } from "react";
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";

// Most lists fit one page: what turns pages is fetched where there are some.
const Pager = lazy(() => import("./Pager"));

export interface PagesProps {
  what: string;
  from: number;
  most: number;
  of: number;
  go: (from: number) => void;
}

export function Pages(given: PagesProps) {
  if (given.of <= given.most) return null;
  return (
    <nav className="pages" aria-label={phrase(terms.pagesOfWhat, { what: given.what })}>
      <Suspense fallback={null}>
        <Pager {...given} />
      </Suspense>
    </nav>
  );
}
