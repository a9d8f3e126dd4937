/** What two people changed of one night, each their own way: both are shown, and one is chosen. */
import { Button } from "antd";
import { inWords, TITLES } from "./draft";
import type { SessionInHand } from "./useChange";

export function Clashes({ hand }: { hand: SessionInHand }) {
  const { change, draft, choose } = hand;
  if (change.clashes.length === 0) return null;
  return (
    <ul className="plain-list clashes" data-testid="clashes" aria-label="Changed in two places">
      {change.clashes.map((clash) => (
        <li key={clash.field} data-field={clash.field}>
          <strong>{TITLES[clash.field]}</strong>: also changed in another window or on another device.
          <p>
            Yours: <q>{inWords(draft, clash.field)}</q>{" "}
            <Button size="small" data-testid="keep-mine" onClick={() => choose(clash, true)}>
              Keep mine
            </Button>
          </p>
          <p>
            Saved there: <q>{inWords(change.was, clash.field)}</q>{" "}
            <Button size="small" data-testid="use-theirs" onClick={() => choose(clash, false)}>
              Use theirs
            </Button>
          </p>
        </li>
      ))}
    </ul>
  );
}
