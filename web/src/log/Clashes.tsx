/** What two people changed of one night, each their own way: both are shown, and one is chosen. */
import { Button } from "antd";
import { terms } from "../terms/log";
import { Phrase } from "../terms/phrase";
import { inWords, TITLES } from "./draft";
import type { SessionInHand } from "./useChange";

export function Clashes({ hand }: { hand: SessionInHand }) {
  const { change, draft, choose } = hand;
  if (change.clashes.length === 0) return null;
  return (
    <ul className="plain-list clashes" data-testid="clashes" aria-label={terms.changedInTwoPlaces}>
      {change.clashes.map((clash) => (
        <li key={clash.field} data-field={clash.field}>
          <Phrase
            of={terms.titlesAlsoChangedInAnotherWindow}
            with={{ TITLES: <strong>{TITLES[clash.field]}</strong> }}
          />
          <p>
            <Phrase of={terms.yoursDraft} with={{ draft: <q>{inWords(draft, clash.field)}</q> }} />{" "}
            <Button size="small" data-testid="keep-mine" onClick={() => choose(clash, true)}>
              {terms.keepMine}
            </Button>
          </p>
          <p>
            <Phrase of={terms.savedThereWas} with={{ was: <q>{inWords(change.was, clash.field)}</q> }} />{" "}
            <Button size="small" data-testid="use-theirs" onClick={() => choose(clash, false)}>
              {terms.useTheirs}
            </Button>
          </p>
        </li>
      ))}
    </ul>
  );
}
