/** The hop card to print: from a bright star to the target, in steps of the field or of a finder's field. */
import { Button, Popover } from "antd";
import { useState } from "react";
import { QuantityInput } from "../../kit/QuantityInput";
import { Sheet } from "../../kit/Sheet";
import { terms } from "../../terms/aim";
import { terms as common } from "../../terms/common";

export function HopCard({ rigId, index }: { rigId: string; index: number }) {
  const [finder, setFinder] = useState<number | null>(null);
  const [asking, setAsking] = useState(false);
  const [shown, setShown] = useState(false);
  const href = (form: string) =>
    `/api/v1/rigs/${rigId}/framings/${index}/hop-card.${form}${finder === null ? "" : `?field_deg=${finder}`}`;
  return (
    <>
      {shown && (
        <Sheet
          title={terms.hopCardByHandFromStar}
          svg={href("svg")}
          pdf={href("pdf")}
          close={() => setShown(false)}
        />
      )}
      <Popover
        trigger="click"
        open={asking}
        onOpenChange={setAsking}
        placement="topRight"
        title={terms.byHandFromStarToStar}
        content={
          <div className="hop-choice">
            <p className="quiet">{terms.forMountsThatCannotCentreA}</p>
            <QuantityInput
              label={terms.fieldOfTheFinderEmptyThe}
              unit="°"
              low={0.2}
              high={15}
              value={finder}
              onChange={(value, ok) => ok && setFinder(value)}
            />
            <p className="button-row">
              <Button
                size="small"
                onClick={() => {
                  setAsking(false);
                  setShown(true);
                }}
              >
                {terms.lookAtTheChart}
              </Button>
              <a className="link" href={href("pdf")} download>
                {common.printItPdf}
              </a>
            </p>
          </div>
        }
      >
        <button type="button" className="plain-button">
          {common.hopCard}
        </button>
      </Popover>
    </>
  );
}
