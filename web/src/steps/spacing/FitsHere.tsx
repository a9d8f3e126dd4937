/** What fits at the chosen joint, or in place of the marked part: drag it to a joint, or lay it with a click. */

import { useQuery } from "@tanstack/react-query";
import { api, data, words } from "../../api/client";
import type { Rig, TrayPart } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { fixed, plain } from "../../kit/quantity";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";
import type { Marked } from "./TrainRule";

interface Props {
  rig: Rig;
  marked: NonNullable<Marked>;
  onLay: (part: TrayPart) => void;
}

export function FitsHere({ rig, marked, onLay }: Props) {
  const replace = !marked.joint;
  const path = rig.path ?? [];
  const fits = useQuery({
    queryKey: ["tray", marked.index, replace, path],
    queryFn: () => data(api.POST("/api/v1/spacing/tray", { body: { rig, index: marked.index, replace } })),
    placeholderData: (before) => before,
  });
  const here = path[marked.index]?.part.name ?? "";
  const ahead = path[marked.index - 1]?.part.name ?? "";
  return (
    <section data-testid="fits" className="fits">
      <p className="quiet">
        <Phrase
          of={terms.hereClickToLayOrDrag}
          with={{
            here: replace
              ? phrase(terms.inPlaceOfTheHere, { here })
              : phrase(terms.betweenAheadAndHere, { ahead, here }),
          }}
        />
      </p>
      {fits.error && <p className="fault">{words(fits.error)}</p>}
      <ul data-testid="chips" className="chips">
        {fits.data?.map((part) => (
          <li key={part.part_id ?? part.name}>
            <button
              type="button"
              draggable
              className={part.both_ends ? "" : "one-end"}
              title={
                part.both_ends
                  ? phrase(terms.endsMatesOnBothSides, { ends: part.ends })
                  : phrase(terms.endsMatesOnOneSideOnly, { ends: part.ends })
              }
              onDragStart={(event) => event.dataTransfer.setData("text/plain", part.part_id ?? "")}
              onClick={() => onLay(part)}
            >
              {part.error_mm != null && <Mark verdict={part.verdict} size={11} />}
              <strong>
                <Num of="TrayPart.length_mm" still>
                  {part.length_mm == null ? "?" : plain(part.length_mm)}
                </Num>
              </strong>
              <span className="chip-name">{part.name}</span>
              <span className="quiet">
                {part.status}
                <Num of="TrayPart.error_mm" still>
                  {part.error_mm != null && ` · ${part.error_mm > 0 ? "+" : ""}${fixed(part.error_mm, 1)}`}
                </Num>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {fits.data?.length === 0 && <p className="quiet">{terms.nothingOnTheShelfHasThese}</p>}
    </section>
  );
}
