/** The hop cards of a rig's targets, fetched before they are needed. */
import { useState } from "react";
import type { FieldRig } from "./useFieldRig";

export function FieldHop({ held, back }: { held: FieldRig; back: () => void }) {
  const [at, setAt] = useState(0);
  const hop = held.hops[at];
  return (
    <section className="field-now" data-testid="field-hop">
      <h1>{hop ? `By hand to ${hop.name}` : "No target to hop to"}</h1>
      {hop?.chart ? (
        <div className="sheet">
          <img src={hop.chart} alt={`Hop card to ${hop.name}`} />
        </div>
      ) : (
        hop && <p>No way from a bright star is known to it.</p>
      )}
      <div className="field-buttons">
        <div className="field-pair">
          <button
            type="button"
            disabled={held.hops.length < 2}
            onClick={() => setAt((at + 1) % Math.max(held.hops.length, 1))}
          >
            Another target
          </button>
          <button type="button" onClick={back}>
            The night
          </button>
        </div>
      </div>
    </section>
  );
}
