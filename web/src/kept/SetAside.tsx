/** What the server refused, set aside with its words: tried again or let go by hand, and in nobody's way. */
import { terms as common } from "../terms/common";
import { terms } from "../terms/kept";
import { Phrase } from "../terms/phrase";
import type { Refusals } from "./useOutbox";
import "./kept.module.css";

interface Props<T> {
  refusals: Refusals<T>;
  named: (item: T) => string;
}

export function SetAside<T extends { id: string }>({ refusals, named }: Props<T>) {
  if (refusals.aside.length === 0) return null;
  return (
    <ul className="plain-list set-aside" data-testid="set-aside" aria-label={terms.notSaved}>
      {refusals.aside.map(({ item, because }) => (
        <li key={item.id}>
          <Phrase
            of={terms.spanItemServerBecause}
            with={{
              span: <span className="fault">{terms.notSaved2}</span>,
              item: named(item),
              because: because.replace(/\.$/, ""),
            }}
          />{" "}
          <button
            type="button"
            className="link"
            data-testid="save-again"
            onClick={() => refusals.again(item.id)}
          >
            {terms.saveAgain}
          </button>{" "}
          <button
            type="button"
            className="link"
            data-testid="discard"
            onClick={() => refusals.discard(item.id)}
          >
            {common.discard}
          </button>
        </li>
      ))}
    </ul>
  );
}
