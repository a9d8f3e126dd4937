/** How a night is rehearsed: how much trouble, which of the seeded nights, how fast; and the button that begins it. */
import { Button, Popover, Select } from "antd";
import { useState } from "react";
import { QuantityInput } from "../kit/QuantityInput";
import { terms } from "../terms/tonight";

export interface RehearsalChoice {
  trouble: "none" | "some" | "much";
  seed: number;
  speed: number;
}

const TROUBLE = [
  { value: "none", label: terms.aNightWithoutTrouble },
  { value: "some", label: terms.someCloudALostStar },
  { value: "much", label: terms.allThatCanGoWrong },
];

export function Rehearse({ begin }: { begin: (choice: RehearsalChoice) => void }) {
  const [choice, setChoice] = useState<RehearsalChoice>({ trouble: "some", seed: 1, speed: 300 });
  const [open, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      title={terms.playedByStandInsByDay}
      content={
        <div className="rehearse-choice">
          <Select
            aria-label={terms.howMuchGoesWrong}
            value={choice.trouble}
            options={TROUBLE}
            onChange={(trouble: RehearsalChoice["trouble"]) => setChoice({ ...choice, trouble })}
          />
          <QuantityInput
            label={terms.whichNightTheSameNumberBrings}
            unit=""
            low={0}
            high={2_000_000_000}
            value={choice.seed}
            onChange={(seed, ok) => ok && seed !== null && setChoice({ ...choice, seed: Math.round(seed) })}
          />
          <Button
            type="primary"
            onClick={() => {
              setOpen(false);
              begin(choice);
            }}
          >
            {terms.playIt}
          </Button>
        </div>
      }
    >
      <Button>{terms.rehearse}</Button>
    </Popover>
  );
}
