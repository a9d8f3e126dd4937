/** Findings across all steps, worst first: one line and one number against one limit, with working and mends. */
import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Evaluation, Finding, Mend, StepPage } from "../api/types";
import { Working } from "../kit/FigureValue";
import { Mark } from "../kit/Mark";
import { Says } from "../kit/Says";
import { counted } from "../kit/words";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

interface Props {
  evaluation: Evaluation;
  steps: readonly StepPage[];
  /** The step that is open: its findings come first. */
  here: string;
  onMend: (finding: Finding, mend: Mend) => void;
  mended: Mended | null;
  undo: () => void;
}

/** A mend that was taken: what it was, and what came of it. */
export interface Mended {
  code: string;
  label: string;
  words: string;
}

/** What a mend changes, by the places in the rig's document. */
export const changes = (mend: Mend) => mend.change.map((one) => one.path).join(" ");

const idOf = (finding: Finding) => `${finding.code}·${finding.subject ?? ""}`;

export function Ledger({ evaluation, steps, here, onMend, mended, undo }: Props) {
  const [open, setOpen] = useState<Record<string, boolean>>({});
  const { findings, missing } = evaluation;
  const { breaks, strains, holds } = evaluation.tally;
  const tally = [counted(breaks, "problem"), counted(strains, "warning"), holds ? `${holds} OK` : ""].filter(
    Boolean,
  );
  const bad = findings.filter((finding) => finding.verdict !== "holds");
  const own = bad.filter((finding) => finding.step === here);
  const others = bad.filter((finding) => finding.step !== here);
  const firstBad = own[0] ?? others[0];
  const line = (finding: Finding) => {
    const id = idOf(finding);
    const isOpen = open[id] ?? finding === firstBad;
    return (
      <li
        key={id}
        data-testid="finding"
        data-code={finding.code}
        data-verdict={finding.verdict}
        data-subject={finding.subject}
        className={`finding ${finding.verdict}`}
      >
        <button
          type="button"
          data-testid="finding-line"
          className="finding-line"
          aria-expanded={isOpen}
          onClick={() => setOpen({ ...open, [id]: !isOpen })}
        >
          <Mark verdict={finding.verdict} />
          <span className="finding-title">
            <Says text={finding.title} still />
            {finding.subject && <span className="quiet"> · {finding.subject}</span>}
          </span>
          <span className="num">{finding.measure.text && <Says text={finding.measure} still />}</span>
        </button>
        {isOpen && <Unfolded finding={finding} evaluation={evaluation} onMend={onMend} />}
      </li>
    );
  };
  return (
    <aside className="ledger" aria-label={terms.ledger} data-tour="ledger" data-place tabIndex={-1}>
      <header>
        <h2>{terms.ledger}</h2>
        <span
          className="quiet"
          data-testid="tally"
          data-breaks={breaks}
          data-strains={strains}
          data-holds={holds}
        >
          {tally.join(" · ")}
        </span>
      </header>
      <div role="status">
        {mended && (
          <div data-testid="mended" data-code={mended.code} className="mended">
            <span>
              <strong>{mended.label}</strong> {mended.words}
            </span>
            <Button size="small" onClick={undo}>
              {terms.undo}
            </Button>
          </div>
        )}
      </div>
      <ol>
        {own.map(line)}
        {own.length > 0 && others.length > 0 && <li className="others">{terms.otherSteps}</li>}
        {others.map(line)}
        {steps.map((step) => {
          const held = findings.filter((finding) => finding.step === step.key && finding.verdict === "holds");
          if (held.length === 0) return null;
          const isOpen = open[step.key] ?? false;
          return (
            <li key={step.key} data-testid="held" data-step={step.key} className="finding held">
              <button
                type="button"
                className="finding-line"
                aria-expanded={isOpen}
                onClick={() => setOpen({ ...open, [step.key]: !isOpen })}
              >
                <Mark verdict="holds" />
                <span className="finding-title">
                  {step.title}: {held.length} {held.length === 1 ? terms.hold : terms.hold}
                </span>
              </button>
              {isOpen && <ol>{held.map(line)}</ol>}
            </li>
          );
        })}
      </ol>
      {findings.length === 0 && <p className="quiet">{terms.nothingToJudgeYetLayA}</p>}
      {missing.length > 0 && (
        <details className="missing" data-testid="missing">
          <summary>
            <Phrase
              of={terms.missingCannotBeComputed}
              with={{ missing: counted(missing.length, "figure") }}
            />
          </summary>
          <ul>
            {missing.map((gap) => (
              <li key={gap.key} data-figure={gap.key}>
                {gap.title}:{" "}
                <span className="quiet">
                  <Says text={gap.because} />
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </aside>
  );
}

function Unfolded({
  finding,
  evaluation,
  onMend,
}: { finding: Finding } & Pick<Props, "evaluation" | "onMend">) {
  const figures = evaluation.figures.filter(
    (figure) =>
      finding.figures?.includes(figure.key) &&
      (figure.subject ?? null) === (figure.subject ? finding.subject : null),
  );
  return (
    <div data-testid="unfolded" className="unfolded">
      <p>
        <Says text={finding.reason} of="Finding.reason" />
      </p>
      <p className="quiet">
        <Phrase of={terms.limitLimit} with={{ limit: <Says text={finding.limit} of="Finding.limit" /> }} />
      </p>
      {finding.mends && finding.mends.length > 0 && (
        <div data-testid="mends" className="mends">
          {finding.mends.map((mend) => (
            <Button
              key={mend.label.text}
              data-testid="mend"
              data-change={changes(mend)}
              data-verdict={mend.all_told}
              onClick={() => onMend(finding, mend)}
              data-tour="mend"
            >
              <Mark verdict={mend.all_told} size={11} />
              <span>
                <Says text={mend.label} still />
                {mend.result.text && (
                  <>
                    {" → "}
                    <Says text={mend.result} still />
                  </>
                )}
                {mend.buys && mend.buys.length > 0 && (
                  <span className="quiet" data-figure="Mend.spend">
                    {mend.spend.text ? phrase(terms.buySpend, { spend: mend.spend.text }) : terms.toBuy2}
                  </span>
                )}
                {mend.costs && mend.costs.length > 0 && (
                  <span className="quiet">
                    <Phrase
                      of={terms.butCosts}
                      with={{ costs: mend.costs.map((one) => one.text).join(", ") }}
                    />
                  </span>
                )}
                {mend.changes.length > 1 && (
                  <span className="mend-changes">
                    {mend.changes.map((one) => (
                      <span key={one.words.text} data-sign={one.sign}>
                        {one.sign} <Says text={one.words} still />
                      </span>
                    ))}
                  </span>
                )}
              </span>
            </Button>
          ))}
        </div>
      )}
      {finding.untried && <p className="quiet">{terms.notEveryMendWasTriedThis}</p>}
      {finding.elsewhere && finding.elsewhere.length > 0 && (
        <ul className="elsewhere">
          {finding.elsewhere.map((other) => (
            <li key={other.rig_id}>
              <Mark verdict={other.leads_to} size={11} />{" "}
              <Link to={`/rigs/${other.rig_id}/aim?target=${encodeURIComponent(finding.subject ?? "")}`}>
                <Says text={other.label} still />
              </Link>
            </li>
          ))}
        </ul>
      )}
      {finding.schools && finding.schools.length > 0 && (
        <ul data-testid="schools" className="schools">
          {finding.schools.map((school) => (
            <li
              key={school.school}
              data-mine={school.school === finding.school}
              className={school.school === finding.school ? "mine" : ""}
            >
              <Mark verdict={school.verdict} size={11} />{" "}
              <span data-given>{school.title || school.school}</span>:{" "}
              <Says text={school.says} of="SchoolSays.says" />
            </li>
          ))}
        </ul>
      )}
      {figures.length > 0 && (
        <details>
          <summary>{terms.working}</summary>
          {figures.map((figure) => (
            <div key={figure.key + figure.subject} className="work-block">
              <strong>{figure.title}</strong>
              <Working figure={figure} />
            </div>
          ))}
        </details>
      )}
      <Link to={`/rules/${finding.code}`}>
        <Phrase of={terms.ruleCode} with={{ code: finding.code }} />
      </Link>
    </div>
  );
}
