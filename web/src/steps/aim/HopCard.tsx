/** The hop card to print: from a bright star to the target, in steps of the field or of a finder's field. */
import { Popover } from "antd";
import { useState } from "react";
import { QuantityInput } from "../../kit/QuantityInput";

export function HopCard({ rigId, index }: { rigId: string; index: number }) {
  const [finder, setFinder] = useState<number | null>(null);
  const href = (form: string) =>
    `/api/v1/rigs/${rigId}/framings/${index}/hop-card.${form}${finder === null ? "" : `?field_deg=${finder}`}`;
  return (
    <Popover
      trigger="click"
      placement="topRight"
      title="By hand, from star to star"
      content={
        <div className="hop-choice">
          <p className="quiet">For mounts that cannot centre a target themselves.</p>
          <QuantityInput
            label="Field of the finder; empty: the rig's own"
            unit="°"
            low={0.2}
            high={15}
            value={finder}
            onChange={(value, ok) => ok && setFinder(value)}
          />
          <p className="button-row">
            <a className="link" href={href("svg")} target="_blank" rel="noreferrer">
              Look at the chart
            </a>
            <a className="link" href={href("pdf")} target="_blank" rel="noreferrer">
              Print it, PDF
            </a>
          </p>
        </div>
      }
    >
      <button type="button" className="plain-button">
        Hop card
      </button>
    </Popover>
  );
}
