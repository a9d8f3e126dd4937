import { Button, Tour } from "antd";
import { useState } from "react";
import type { Evaluation, Finding, Mend } from "../api/types";
import { counted } from "../kit/words";

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
          title: "The light strip",
          description:
            "Magpie from the sky on the left to the sensor on the right, to scale. Click a part to see or swap it.",
          target: at("strip"),
        },
        {
          title: "Six numbers",
          description: "Each shows its formula, inputs and source when clicked.",
          target: at("numbers"),
        },
        {
          title: "The ledger",
          description:
            "Findings, worst first. A notched diamond breaks, a half-filled ring strains, a hollow ring holds.",
          target: at("ledger"),
        },
        {
          title: "A mend",
          description:
            "Buttons under a finding are changes that were tried and judged better. Now they are taken one by one, until nothing breaks; Undo takes each back.",
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
          <strong>Nothing breaks any more.</strong>
          <p>
            {counted(taken, "mend")} taken; what strains works at a cost, and stands in the ledger with its
            reasons. Cost tells what is to buy. Undo walks back, change by change.
          </p>
          <Button type="primary" onClick={close}>
            End of the tour
          </Button>
        </>
      ) : (
        <>
          <strong>{counted(breaks.length, "break")} left</strong>
          {next && mend ? (
            <>
              <p>
                {next.title}. {next.reason}
              </p>
              <Button
                type="primary"
                onClick={() => {
                  setTaken(taken + 1);
                  onMend(next, mend);
                }}
              >
                {mend.label}
              </Button>
            </>
          ) : (
            <p className="quiet">Mends are being tried…</p>
          )}
          <Button onClick={close}>I go on by myself</Button>
        </>
      )}
    </aside>
  );
}
