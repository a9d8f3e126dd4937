/** The hop cards of a rig's targets, fetched before they are needed. */
import { useState } from "react";
import { terms } from "../terms/field";
import { phrase } from "../terms/phrase";
import type { FieldRig } from "./useFieldRig";

export function FieldHop({ held, back }: { held: FieldRig; back: () => void }) {
  const [at, setAt] = useState(0);
  const hop = held.hops[at];
  return (
    <section className="field-now" data-testid="field-hop">
      <h1>{hop ? phrase(terms.byHandToHop, { hop: hop.name }) : terms.noTargetToHopTo}</h1>
      {hop?.chart ? (
        <div className="sheet">
          <img src={hop.chart} alt={phrase(terms.hopCardToHop, { hop: hop.name })} />
        </div>
      ) : (
        hop && <p>{terms.noWayFromABrightStar}</p>
      )}
      <div className="field-buttons">
        <div className="field-pair">
          <button
            type="button"
            disabled={held.hops.length < 2}
            onClick={() => setAt((at + 1) % Math.max(held.hops.length, 1))}
          >
            {terms.anotherTarget}
          </button>
          <button type="button" onClick={back}>
            {terms.theNight}
          </button>
        </div>
      </div>
    </section>
  );
}
