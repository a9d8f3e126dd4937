/** Verdict marks: told apart by shape first, colour second. */
import type { Verdict } from "../api/types";
import { terms } from "../terms/kit";

/** A verdict as it is read. */
export const VERDICT_WORDS: Record<Verdict, string> = {
  ok: terms.verdictOk,
  warning: terms.verdictWarning,
  problem: terms.verdictProblem,
};

export function Mark({ verdict, size = 14 }: { verdict: Verdict; size?: number }) {
  return (
    <svg
      className={`mark ${verdict}`}
      data-verdict={verdict}
      width={size}
      height={size}
      viewBox="0 0 16 16"
      role="img"
      aria-label={VERDICT_WORDS[verdict]}
    >
      <MarkShape verdict={verdict} />
    </svg>
  );
}

/** The shape alone, in a 16 × 16 box, for use inside other drawings. */
export function MarkShape({ verdict }: { verdict: Verdict }) {
  const tone = `var(--${verdict})`;
  if (verdict === "ok") return <circle cx="8" cy="8" r="5.4" fill="none" stroke={tone} strokeWidth="2.4" />;
  if (verdict === "warning")
    return (
      <>
        <circle cx="8" cy="8" r="6" fill="none" stroke={tone} strokeWidth="1.8" />
        <path d="M2 8a6 6 0 0 0 12 0z" fill={tone} />
      </>
    );
  return <path d="M8 0.8L15.2 8L8 15.2L5.6 12.8L8 10.4L5.6 8L3.2 10.4L0.8 8z" fill={tone} />;
}
