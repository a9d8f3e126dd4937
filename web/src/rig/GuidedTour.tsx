import { Button, Tour } from "antd";
import { useState } from "react";
import type { Evaluation, Finding, Mend } from "../api/types";
import { Says } from "../kit/Says";
import { counted } from "../kit/words";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

const at = (name: string) => () =>
  document.querySelector<HTMLElement>(`[data-tour="${name}"]`) as HTMLElement;

const LAST = 3; // the step that speaks of mends

interface Props {
  evaluation: Evaluation | null;
  onMend: (finding: Finding, mend: Mend) => void;
  close: () => void;
}

/** Two minutes with Magpie: what the page shows, and then mend after mend until nothing breaks. */
export default function GuidedTour({ evaluation, onMend, close }: Props) {
  const [shown, setShown] = useState(false);
  if (shown) return <MendByMend evaluation={evaluation} onMend={onMend} close={close} />;
  return (
    <Tour
      open
      // The end of the last step comes here as well: it goes on to the mends.
      onClose={(current) => (current === LAST ? setShown(true) : close())}
      steps={[
        {
          title: terms.theLightStrip,
          description: terms.magpieFromTheSkyOnThe,
          target: at("strip"),
        },
        {
          title: terms.sixNumbers,
          description: terms.eachShowsItsFormulaInputsAnd,
          target: at("numbers"),
        },
        {
          title: terms.ledger,
          description: terms.findingsWorstFirstANotchedDiamond,
          target: at("ledger"),
        },
        {
          title: terms.aMend,
          description: terms.buttonsUnderAFindingAreChanges,
          target: at("mend"),
        },
      ]}
    />
  );
}

function MendByMend({ evaluation, onMend, close }: Props) {
  const [taken, setTaken] = useState(0);
  const breaks = (evaluation?.findings ?? []).filter((one) => one.verdict === "breaks");
  const next = breaks.find((one) => (one.mends ?? []).length > 0);
  const mend = next?.mends?.[0];
  return (
    <aside className="mend-by-mend" data-testid="mend-by-mend" aria-live="polite">
      {evaluation && breaks.length === 0 ? (
        <>
          <strong>{terms.nothingBreaksAnyMore}</strong>
          <p>
            <Phrase of={terms.takenTakenWhatStrainsWorksAt} with={{ taken: counted(taken, "mend") }} />
          </p>
          <Button type="primary" onClick={close}>
            {terms.endOfTheTour}
          </Button>
        </>
      ) : (
        <>
          <strong>
            <Phrase of={terms.breaksLeft} with={{ breaks: counted(breaks.length, "problem") }} />
          </strong>
          {next && mend ? (
            <>
              <p>
                <Says text={next.title} />. <Says text={next.reason} />
              </p>
              <Button
                type="primary"
                onClick={() => {
                  setTaken(taken + 1);
                  onMend(next, mend);
                }}
              >
                <Says text={mend.label} still />
              </Button>
            </>
          ) : (
            <p className="quiet">{terms.mendsAreBeingTried}</p>
          )}
          <Button onClick={close}>{terms.iGoOnByMyself}</Button>
        </>
      )}
    </aside>
  );
}
