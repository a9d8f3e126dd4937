/** How much of what is under way has passed, and the minutes left, large. */
const R = 44;
const ROUND = 2 * Math.PI * R;

export function Ring({ share, minutes, words }: { share: number; minutes: number; words: string }) {
  const hours = minutes >= 100;
  return (
    <svg viewBox="0 0 106 106" width={140} height={140} role="img" aria-label={`${minutes} ${words}`}>
      <circle cx={53} cy={53} r={R} fill="none" stroke="var(--line)" strokeWidth={9} />
      <circle
        cx={53}
        cy={53}
        r={R}
        fill="none"
        stroke="var(--brass)"
        strokeWidth={9}
        strokeDasharray={`${ROUND * Math.min(1, share)} ${ROUND}`}
        transform="rotate(-90 53 53)"
      />
      <text x={53} y={58} textAnchor="middle" className="num field-minutes">
        {hours ? `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}` : minutes}
      </text>
      <text x={53} y={74} textAnchor="middle" className="field-unit">
        {hours ? words.replace("min", "h") : words}
      </text>
    </svg>
  );
}
