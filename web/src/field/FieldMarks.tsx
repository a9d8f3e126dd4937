/** The marks of a rig: where weights, saddle, drawtube, guide camera and camera angle belong. */
import { Says } from "../kit/Says";
import { terms } from "../terms/field";
import type { FieldRig } from "./useFieldRig";

export function FieldMarks({ held, back }: { held: FieldRig; back: () => void }) {
  const marks = (held.build?.cards ?? []).filter((card) => card.mark.text);
  return (
    <section className="field-now" data-testid="field-marks">
      <h1>{terms.marks2}</h1>
      {marks.length === 0 && <p>{terms.noCardOfThisRigHas}</p>}
      <dl className="field-list">
        {marks.map((card) => (
          <div key={card.key}>
            <dt>
              <Says text={card.title} />
            </dt>
            <dd>
              <strong>
                <Says text={card.mark} />
              </strong>
            </dd>
          </div>
        ))}
      </dl>
      <div className="field-buttons">
        <button type="button" onClick={back}>
          {terms.theNight}
        </button>
      </div>
    </section>
  );
}
