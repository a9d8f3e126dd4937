/** Picks a part of the shelf to take the place of one in the path, and compares before it swaps. */
import { Button } from "antd";
import { useState } from "react";
import type { Part, PatchOperation, Rig } from "../api/types";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import { PartPicker } from "./PartPicker";
import { SwapCompare } from "./SwapCompare";

interface Props {
  rig: Rig;
  index: number;
  kinds: Part["kind"][];
  patch: (change: PatchOperation[], note: string) => void;
  label: string;
  primary?: boolean;
}

export function SwapButton({ rig, index, kinds, patch, label, primary }: Props) {
  const [swapping, setSwapping] = useState<"pick" | Part | null>(null);
  return (
    <>
      <Button
        type={primary ? "primary" : "default"}
        size={primary ? "middle" : "small"}
        onClick={() => setSwapping("pick")}
      >
        {label}
      </Button>
      {swapping === "pick" && (
        <PartPicker
          title={phrase(terms.inPlaceOfThePart, { part: rig.path?.[index]?.part.name ?? terms.part })}
          kinds={kinds}
          close={() => setSwapping(null)}
          onPick={setSwapping}
        />
      )}
      {swapping && swapping !== "pick" && (
        <SwapCompare
          rig={rig}
          index={index}
          part={swapping}
          close={() => setSwapping(null)}
          onSwap={(change, note) => {
            patch(change, note);
            setSwapping(null);
          }}
        />
      )}
    </>
  );
}
