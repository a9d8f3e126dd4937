/** Findings, those of the open step first: one line and one number against one limit, with working and fixes. */
import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Evaluation, Finding, Fix, StepPage } from "../api/types";
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
  onFix: (finding: Finding, fix: Fix) => void;
  fixed: Fixed | null;
  undo: () => void;
}

/** A fix that was taken: what it was, and what came of it. */
export interface Fixed {
  code: string;
  label: string;
  words: string;
}

/** What a fix changes, by the places in the rig's document. */
export const changes = (fix: Fix) => fix.change.map((one) => one.path).join(" ");

const idOf = (finding: Finding) => `${finding.code}·${finding.subject ?? ""}`;

export function Findings({ evaluation, steps, here, onFix, fixed, undo }: Props) {
  const [open, setOpen] = useState<Record<string, boolean>>({});
  const { findings, missing } = evaluation;
  const { problem, warning, ok } = evaluation.tally;
  const tally = [counted(problem, "problem"), counted(warning, "warning"), ok ? `${ok} OK` : ""].filter(
    Boolean,
  );
  const bad = findings.filter((finding) => finding.verdict !== "ok");
  const own = bad.filter((finding) => finding.step === here);
  const others = bad.filter((finding) => finding.step !== here);
  const line = (finding: Finding) => {
    const id = idOf(finding);
    const isOpen = open[id] ?? finding === own[0];
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
        {isOpen && <Unfolded finding={finding} evaluation={evaluation} onFix={onFix} />}
      </li>
    );
  };
  const held = (step: StepPage) => {
    const fine = findings.filter((finding) => finding.step === step.key && finding.verdict === "ok");
    if (fine.length === 0) return null;
    const isOpen = open[step.key] ?? false;
    return (
      <li key={step.key} data-testid="held" data-step={step.key} className="finding held">
        <button
          type="button"
          className="finding-line"
          aria-expanded={isOpen}
          onClick={() => setOpen({ ...open, [step.key]: !isOpen })}
        >
          <Mark verdict="ok" />
          <span className="finding-title">
            {step.title}: {fine.length} {terms.hold}
          </span>
        </button>
        {isOpen && <ol>{fine.map(line)}</ol>}
      </li>
    );
  };
  return (
    <aside className="findings" aria-label={terms.findings} data-tour="findings" data-place tabIndex={-1}>
      <header>
        <h2>{terms.findings}</h2>
        <span
          className="quiet"
          data-testid="tally"
          data-problem={problem}
          data-warning={warning}
          data-ok={ok}
        >
          {tally.join(" · ")}
        </span>
      </header>
      <div role="status">
        {fixed && (
          <div data-testid="fixed" data-code={fixed.code} className="fixed">
            <span>
              <strong>{fixed.label}</strong> {fixed.words}
            </span>
            <Button size="small" onClick={undo}>
              {terms.undo}
            </Button>
          </div>
        )}
      </div>
      <ol>
        {own.map(line)}
        {steps.filter((step) => step.key === here).map(held)}
        {findings.some((finding) => finding.step !== here) && <li className="others">{terms.otherSteps}</li>}
        {others.map(line)}
        {steps.filter((step) => step.key !== here).map(held)}
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
  onFix,
}: { finding: Finding } & Pick<Props, "evaluation" | "onFix">) {
  const figures = evaluation.figures.filter(
    (figure) =>
      finding.figures?.includes(figure.key) &&
      (figure.subject ?? null) === (figure.subject ? finding.subject : null),
  );
  return (
    <div data-testid="unfolded" className="unfolded">
      <p>
        <Says text={finding.reason} of="Finding.reason" glossed />
      </p>
      <p className="quiet">
        <Phrase of={terms.limitLimit} with={{ limit: <Says text={finding.limit} of="Finding.limit" /> }} />
      </p>
      {finding.fixes && finding.fixes.length > 0 && (
        <div data-testid="fixes" className="fixes">
          {finding.fixes.map((fix) => (
            <Button
              key={fix.label.text}
              data-testid="fix"
              data-change={changes(fix)}
              data-verdict={fix.all_told}
              onClick={() => onFix(finding, fix)}
              data-tour="fix"
            >
              <Mark verdict={fix.all_told} size={11} />
              <span>
                <Says text={fix.label} still />
                {fix.result.text && (
                  <>
                    {" → "}
                    <Says text={fix.result} still />
                  </>
                )}
                {fix.buys && fix.buys.length > 0 && (
                  <span className="quiet" data-figure="Fix.spend">
                    {fix.spend.text ? phrase(terms.buySpend, { spend: fix.spend.text }) : terms.toBuy2}
                  </span>
                )}
                {fix.costs && fix.costs.length > 0 && (
                  <span className="quiet">
                    <Phrase
                      of={terms.butCosts}
                      with={{ costs: fix.costs.map((one) => one.text).join(", ") }}
                    />
                  </span>
                )}
                {fix.changes.length > 1 && (
                  <span className="fix-changes">
                    {fix.changes.map((one) => (
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
      {finding.untried && <p className="quiet">{terms.notEveryFixWasTriedThis}</p>}
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
