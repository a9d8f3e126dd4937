/** The moon's lit share as it hangs in the northern sky. */
export function Disc({ lit, waxing }: { lit: number; waxing: boolean }) {
  // The lit limb, then back along the terminator: over the middle when more than half is lit.
  const outer = waxing ? 1 : 0;
  const inner = waxing === lit > 0.5 ? 1 : 0;
  const bulge = Math.abs(5 * (2 * lit - 1));
  return (
    <svg viewBox="-6 -6 12 12" width="12" height="12" aria-hidden="true">
      <circle r="5" className="moon-dark" />
      <path className="moon-lit" d={`M0 -5A5 5 0 0 ${outer} 0 5A${bulge} 5 0 0 ${inner} 0 -5Z`} />
    </svg>
  );
}
