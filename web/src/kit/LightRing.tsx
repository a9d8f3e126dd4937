/** How much of the wished light is there, as a thin ring that closes. */
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
export function LightRing({ share, size }: { share: number; size: number }) {
  const turn = 2 * Math.PI * 9;
  const part = Math.max(0, Math.min(1, share));
  return (
    <svg
      className="light-ring"
      viewBox="0 0 24 24"
      width={size}
      height={size}
      role="img"
      aria-label={phrase(terms.partOfTheLightWished, { part: Math.round(part * 100) })}
    >
      <circle cx="12" cy="12" r="9" className="ring-wished" />
      {part > 0 && (
        <circle
          cx="12"
          cy="12"
          r="9"
          className="ring-kept"
          strokeDasharray={`${part * turn} ${turn}`}
          transform="rotate(-90 12 12)"
        />
      )}
    </svg>
  );
}
