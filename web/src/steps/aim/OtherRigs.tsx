/** Other rigs at the same site, each with its field and what the target makes of it; the chosen ones are drawn too. */

import { Fragment } from "react";
import type { Sentence, Target } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { keyOf } from "../../kit/TargetTabs";
import { terms } from "../../terms/aim";

export interface OtherRig {
  rig_id: string;
  name: string;
  field?: [number, number] | null;
  cells: { target_id: string; words: Sentence }[];
}

interface Props {
  rows: OtherRig[];
  target: Target;
  shown: string[];
  show: (ids: string[]) => void;
}

export function OtherRigs({ rows, target, shown, show }: Props) {
  if (rows.length === 0) return null;
  return (
    <fieldset className="others">
      <legend>{terms.otherRigsHere}</legend>
      {rows.map((row) => (
        <label key={row.rig_id}>
          <input
            type="checkbox"
            checked={shown.includes(row.rig_id)}
            onChange={(event) =>
              show(event.target.checked ? [...shown, row.rig_id] : shown.filter((id) => id !== row.rig_id))
            }
          />
          <strong>{row.name}</strong>
          <span className="quiet num">
            <Num of="BoardRow.field" still>
              {fixed(row.field?.[0], 1)}° × {fixed(row.field?.[1], 1)}°
            </Num>
            {row.cells
              .filter((cell) => cell.target_id === keyOf(target))
              .map((cell) => (
                <Fragment key={cell.target_id}>
                  , <Says text={cell.words} still of="BoardCell.words" />
                </Fragment>
              ))}
          </span>
        </label>
      ))}
    </fieldset>
  );
}
