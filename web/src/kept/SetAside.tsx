/** What the server refused, set aside with its words: tried again or let go by hand, and in nobody's way. */
import type { Refusals } from "./useOutbox";
import "./kept.module.css";

interface Props<T> {
  refusals: Refusals<T>;
  named: (item: T) => string;
}

export function SetAside<T extends { id: string }>({ refusals, named }: Props<T>) {
  if (refusals.aside.length === 0) return null;
  return (
    <ul className="plain-list set-aside" data-testid="set-aside" aria-label="Not saved">
      {refusals.aside.map(({ item, because }) => (
        <li key={item.id}>
          <span className="fault">Not saved:</span> {named(item)}. Server: {because.replace(/\.$/, "")}.{" "}
          <button
            type="button"
            className="link"
            data-testid="save-again"
            onClick={() => refusals.again(item.id)}
          >
            Save again
          </button>{" "}
          <button
            type="button"
            className="link"
            data-testid="discard"
            onClick={() => refusals.discard(item.id)}
          >
            Discard
          </button>
        </li>
      ))}
    </ul>
  );
}
