/** Why subs were rejected: one reason for all of them, or several with their counts. */
import { Button, Input } from "antd";
import { NumberField } from "../kit/NumberField";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase } from "../terms/phrase";
import { type Draft, type Loss, NO_REASON, thrownAway } from "./draft";

export function Losses({ draft, set }: { draft: Draft; set: (losses: Loss[]) => void }) {
  const { losses } = draft;
  const lost = thrownAway(draft.subs);
  if (lost === 0 && losses.length === 0) return null;
  const told = losses.reduce((all, one) => all + one.count, 0);
  const change = (k: number, part: Partial<Loss>) =>
    set(losses.map((one, i) => (i === k ? { ...one, ...part } : one)));
  const single = losses.length === 1 && told === lost;
  const shown = losses.length > 0 ? losses : [{ why: NO_REASON, count: lost }];
  return (
    <fieldset className="losses">
      <legend>
        <Phrase of={terms.rejectedSubsLost} with={{ lost }} />
      </legend>
      {shown.map((one, k) => (
        <div key={k} className="part-fields">
          {!single && losses.length > 0 && (
            <NumberField
              of="SessionLoss.count"
              label={terms.rejected}
              value={one.count}
              onChange={(count) => count !== null && change(k, { count })}
            />
          )}
          <label className="stacked wide">
            {terms.reason}
            <Input
              aria-label={terms.reasonForRejection}
              data-testid="reason"
              maxLength={120}
              placeholder={NO_REASON}
              value={one.why === NO_REASON ? "" : one.why}
              onChange={(event) => {
                const why = event.target.value || NO_REASON;
                if (losses.length === 0) set([{ why, count: lost }]);
                else change(k, { why });
              }}
            />
          </label>
          {losses.length > 1 && (
            <Button size="small" onClick={() => set(losses.filter((_, i) => i !== k))}>
              {common.remove}
            </Button>
          )}
        </div>
      ))}
      <Button
        size="small"
        onClick={() => set([...shown, { why: NO_REASON, count: Math.max(1, lost - told) }])}
        disabled={losses.length === 0}
      >
        {terms.addReason}
      </Button>{" "}
      {losses.length > 0 && told !== lost && (
        <span className="quiet" role="status">
          <Phrase of={terms.reasonsCoverToldSubsLostWere} with={{ told, lost }} />
        </span>
      )}
    </fieldset>
  );
}
