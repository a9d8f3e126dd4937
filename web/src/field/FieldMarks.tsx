/** The marks of a rig: where weights, saddle, drawtube, guide camera and camera angle belong. */
import type { FieldRig } from "./useFieldRig";

export function FieldMarks({ held, back }: { held: FieldRig; back: () => void }) {
  const marks = (held.build?.cards ?? []).filter((card) => card.mark);
  return (
    <section className="field-now" data-testid="field-marks">
      <h1>Marks</h1>
      {marks.length === 0 && <p>No card of this rig has a mark.</p>}
      <dl className="field-list">
        {marks.map((card) => (
          <div key={card.key}>
            <dt>{card.title}</dt>
            <dd>
              <strong>{card.mark}</strong>
            </dd>
          </div>
        ))}
      </dl>
      <div className="field-buttons">
        <button type="button" onClick={back}>
          The night
        </button>
      </div>
    </section>
  );
}
