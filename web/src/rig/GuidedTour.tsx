import { Button, Tour } from "antd";
import { useState } from "react";
import type { Evaluation, Finding, Fix } from "../api/types";
import { Says } from "../kit/Says";
import { counted } from "../kit/words";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

const at = (name: string) => () =>
  document.querySelector<HTMLElement>(`[data-tour="${name}"]`) as HTMLElement;

const LAST = 3; // the step that speaks of fixes

interface Props {
  evaluation: Evaluation | null;
  onFix: (finding: Finding, fix: Fix) => void;
  close: () => void;
}

/** Two minutes with Magpie: what the page shows, and then fix after fix until nothing problems. */
export default function GuidedTour({ evaluation, onFix, close }: Props) {
  const [shown, setShown] = useState(false);
  if (shown) return <FixByFix evaluation={evaluation} onFix={onFix} close={close} />;
  return (
    <Tour
      open
      // The end of the last step comes here as well: it goes on to the fixes.
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
          title: terms.findings,
          description: terms.findingsWorstFirstANotchedDiamond,
          target: at("findings"),
        },
        {
          title: terms.aFix,
          description: terms.buttonsUnderAFindingAreChanges,
          target: at("fix"),
        },
      ]}
    />
  );
}

function FixByFix({ evaluation, onFix, close }: Props) {
  const [taken, setTaken] = useState(0);
  const problems = (evaluation?.findings ?? []).filter((one) => one.verdict === "problem");
  const next = problems.find((one) => (one.fixes ?? []).length > 0);
  const fix = next?.fixes?.[0];
  return (
    <aside className="fix-by-fix" data-testid="fix-by-fix" aria-live="polite">
      {evaluation && problems.length === 0 ? (
        <>
          <strong>{terms.nothingBreaksAnyMore}</strong>
          <p>
            <Phrase of={terms.takenTakenWhatStrainsWorksAt} with={{ taken: counted(taken, "fix") }} />
          </p>
          <Button type="primary" onClick={close}>
            {terms.endOfTheTour}
          </Button>
        </>
      ) : (
        <>
          <strong>
            <Phrase of={terms.problemsLeft} with={{ problems: counted(problems.length, "problem") }} />
          </strong>
          {next && fix ? (
            <>
              <p>
                <Says text={next.title} />. <Says text={next.reason} />
              </p>
              <Button
                type="primary"
                onClick={() => {
                  setTaken(taken + 1);
                  onFix(next, fix);
                }}
              >
                <Says text={fix.label} still />
              </Button>
            </>
          ) : (
            <p className="quiet">{terms.fixesAreBeingTried}</p>
          )}
          <Button onClick={close}>{terms.iGoOnByMyself}</Button>
        </>
      )}
    </aside>
  );
}
