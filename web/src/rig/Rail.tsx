/** The order of work: each step with its worst verdict and its one number. */

import { NavLink } from "react-router";
import type { Evaluation, StepPage } from "../api/types";
import { Mark } from "../kit/Mark";
import { Says } from "../kit/Says";
import { STEPS } from "../steps";
import { terms } from "../terms/rig";

interface Props {
  rigId: string;
  steps: readonly StepPage[];
  evaluation: Evaluation | null;
  aimAt: string | null;
}

export function Rail({ rigId, steps, evaluation, aimAt }: Props) {
  return (
    <nav className="rail" aria-label={terms.orderOfWork}>
      {steps.map(({ key, title, question }) => {
        const verdict = evaluation?.marks?.[key] ?? null;
        const headline = evaluation?.headlines?.[key];
        const aims = aimAt && STEPS.some((step) => step.key === key && step.aims);
        return (
          <NavLink
            key={key}
            data-testid={`step-${key}`}
            title={question}
            to={`/rigs/${rigId}/${key}${aims ? `?target=${aimAt}` : ""}`}
          >
            {verdict ? <Mark verdict={verdict} size={16} /> : <span className="no-mark" />}
            <span>
              <strong>{title}</strong>
              <span className="quiet">{headline?.text ? <Says text={headline} still /> : "…"}</span>
            </span>
          </NavLink>
        );
      })}
    </nav>
  );
}
