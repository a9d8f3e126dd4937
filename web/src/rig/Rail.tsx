/** The order of work: each stop with its worst verdict and its one number. */
import { NavLink } from "react-router";
import type { Evaluation, Step, Verdict } from "../api/types";
import { Mark } from "../drawing/Mark";

const STOPS: { step: Step; title: string }[] = [
  { step: "aim", title: "Aim" },
  { step: "glass", title: "Glass" },
  { step: "spacing", title: "Spacing" },
  { step: "load", title: "Load" },
  { step: "guide", title: "Guide" },
  { step: "power", title: "Power" },
];

export function Rail({
  rigId,
  evaluation,
  aimAt,
}: {
  rigId: string;
  evaluation: Evaluation | null;
  aimAt: string | null;
}) {
  return (
    <nav className="rail" aria-label="Order of work">
      {STOPS.map(({ step, title }) => {
        const verdict = evaluation ? worst(evaluation, step) : null;
        return (
          <NavLink
            key={step}
            to={`/rigs/${rigId}/${step}${step === "aim" && aimAt ? `?target=${aimAt}` : ""}`}
          >
            {verdict ? <Mark verdict={verdict} size={16} /> : <span className="no-mark" />}
            <span>
              <strong>{title}</strong>
              <span className="quiet">{evaluation ? oneNumber(evaluation, step) : "…"}</span>
            </span>
          </NavLink>
        );
      })}
    </nav>
  );
}

function worst(evaluation: Evaluation, step: Step): Verdict | null {
  const verdicts = evaluation.findings
    .filter((finding) => finding.step === step)
    .map((finding) => finding.verdict);
  return verdicts.find((v) => v === "breaks") ?? verdicts.find((v) => v === "strains") ?? verdicts[0] ?? null;
}

const value = (evaluation: Evaluation, key: string) =>
  evaluation.figures.find((figure) => figure.key === key)?.value;

function oneNumber(evaluation: Evaluation, step: Step): string {
  if (step === "load") {
    const mass = value(evaluation, "load.total_kg");
    return mass === undefined ? "nothing yet" : `${mass.toFixed(1)} kg`;
  }
  if (step === "guide") {
    const error = value(evaluation, "guide.rms_px");
    return error === undefined ? "no mount yet" : `${error.toFixed(2)} px RMS`;
  }
  if (step === "power") {
    const needed = value(evaluation, "power.energy_needed_wh");
    return needed === undefined ? "draws nothing" : `${needed.toFixed(0)} Wh`;
  }
  if (step === "aim") {
    const count = new Set(evaluation.findings.filter((f) => f.step === "aim").map((f) => f.subject)).size;
    return count === 0 ? "no target" : count === 1 ? "1 target" : `${count} targets`;
  }
  if (step === "spacing") {
    const error = value(evaluation, "spacing.error_mm");
    if (error !== undefined) {
      if (Math.abs(error) < 0.05) return "on its mark";
      return `${Math.abs(error).toFixed(1)} mm ${error > 0 ? "long" : "short"}`;
    }
    const actual = value(evaluation, "spacing.actual_mm");
    return actual === undefined ? "no train yet" : `${actual.toFixed(1)} mm`;
  }
  const scale = evaluation.figures.find((figure) => figure.key === "optics.pixel_scale_arcsec_px");
  return scale ? `${scale.value.toFixed(2)}″/px` : "no scale yet";
}
