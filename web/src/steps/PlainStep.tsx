/** A step without a picture of its own: its question, its numbers with their working, and what its rules say. */

import type { Evaluation, StepPage } from "../api/types";
import { FigureValue } from "../kit/FigureValue";
import { Mark } from "../kit/Mark";
import { Says } from "../kit/Says";

export function PlainStep({ step, evaluation }: { step: StepPage; evaluation: Evaluation | null }) {
  const figures = evaluation?.figures.filter((figure) => figure.key.startsWith(`${step.key}.`)) ?? [];
  const findings = evaluation?.findings.filter((finding) => finding.step === step.key) ?? [];
  return (
    <div className="plain-step">
      <h2>{step.title}</h2>
      <p className="quiet">{step.question}</p>
      <div data-testid="mount-numbers" className="load-numbers">
        {figures.map((figure) => (
          <FigureValue key={figure.key + (figure.subject ?? "")} figure={figure} />
        ))}
      </div>
      <ul>
        {findings.map((finding) => (
          <li key={finding.code + (finding.subject ?? "")}>
            <Mark verdict={finding.verdict} size={12} /> <Says text={finding.title} />:{" "}
            <Says text={finding.reason} />
          </li>
        ))}
      </ul>
    </div>
  );
}
