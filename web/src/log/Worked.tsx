/** Marks that worked on a rig, each with what the rig says; taken over with one press, as one revision. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { api, data, words } from "../api/client";
import type { WorkedMark, WorkedMarks } from "../api/types";
import { Num } from "../kit/Calculated";
import { withUnit } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms } from "../terms/log";
import { Phrase, phrase } from "../terms/phrase";

interface Props {
  rigId: string;
  marks: WorkedMarks;
  /** The kept revision a mark is taken into, or else what takes it into a rig in hand. */
  revision?: number;
  into?: (mark: WorkedMark) => Promise<unknown>;
  /** The card of the build they are shown on; without one all are. */
  card?: string;
}

export function Worked({ rigId, revision, marks, card, into }: Props) {
  const client = useQueryClient();
  const take = useMutation({
    mutationFn: async (one: WorkedMarks["marks"][number]): Promise<unknown> => {
      const mark = { sort: one.sort, value: one.value, of: one.of, temperature_c: null, at: null };
      if (into) return into(mark);
      const params = { path: { rig_id: rigId } };
      return data(
        api.POST("/api/v1/log/marks/{rig_id}/take", { params, body: { base: revision ?? 0, mark } }),
      );
    },
    onSuccess: () => client.invalidateQueries(),
  });
  const shown = marks.marks.filter((one) => card === undefined || one.card === card);
  const focus = card === undefined || card === "drawtube" || card === "focus" ? marks.tonight : [];
  if (shown.length === 0 && focus.length === 0) return null;
  return (
    <section aria-label={terms.marksThatWorked} className="worked-marks" data-testid="worked">
      {card === undefined && <h2>{terms.marksThatWorked}</h2>}
      <ul className="plain-list">
        {shown.map((one) => (
          <li key={`${one.sort} ${one.of}`}>
            {one.title}
            {one.of && ` (${one.of})`}:{" "}
            <strong className="num">
              <Num of="MarkThatWorked.value">{withUnit(one.value, one.unit)}</Num>
            </strong>{" "}
            <span className="quiet num">
              <Phrase
                of={terms.onNightDesignedNights}
                with={{
                  night: one.night,
                  designed: (
                    <Num of="MarkThatWorked.designed">
                      {one.designed != null &&
                        phrase(terms.theRigSaysDesigned, { designed: withUnit(one.designed, one.unit, 1) })}
                    </Num>
                  ),
                  nights: (
                    <Num of="MarkThatWorked.spread">
                      {one.spread != null &&
                        phrase(terms.overNightsNightsWithinSpread, {
                          nights: one.nights,
                          spread: withUnit(one.spread, one.unit),
                        })}
                    </Num>
                  ),
                }}
              />
            </span>{" "}
            {one.takes && (
              <Button size="small" loading={take.isPending} onClick={() => take.mutate(one)}>
                {terms.takeItOver}
              </Button>
            )}
          </li>
        ))}
        {focus.map((one) => (
          <li key={one.text} className="num">
            <Phrase of={terms.tonightOne} with={{ one: <Says text={one} /> }} />
          </li>
        ))}
      </ul>
      {take.error && <p className="fault">{words(take.error)}</p>}
    </section>
  );
}
