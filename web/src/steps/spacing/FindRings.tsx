/** The solver: ring sequences from the shelf that bring the sensor to its place, or the proof that there are none. */

import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Checkbox } from "antd";
import { useEffect, useState } from "react";
import { api, data, dataAs, words } from "../../api/client";
import type { Part, PatchOperation, Rig, RingAnswer, RingChoice } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { useLatest } from "../../kit/useLatest";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

interface Props {
  rig: Rig;
  patch: (change: PatchOperation[], note: string) => void;
}

export function FindRings({ rig, patch }: Props) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const [wished, setWished] = useState(true);
  const [shop, setShop] = useState(false);
  const [keep, setKeep] = useState<readonly number[]>([]);
  const [answer, setAnswer] = useState<RingAnswer | null>(null);
  const [fault, setFault] = useState("");
  const ask = useLatest(
    async (body: { rig: Rig; wished: boolean; shop: boolean; keep: number[] }) => {
      try {
        return await dataAs<RingAnswer>(api.POST("/api/v1/spacing/rings", { body }));
      } catch (error) {
        setFault(words(error));
        throw error;
      }
    },
    (found) => {
      setFault("");
      setAnswer(found);
    },
  );
  useEffect(() => {
    void ask({ rig, wished, shop, keep: [...keep] });
  }, [ask, rig, wished, shop, keep]);
  const rings = (rig.path ?? [])
    .map((entry, index) => ({ entry, index }))
    .filter(({ entry }) => entry.part.kind === "adapter");

  async function wish(part: NonNullable<RingAnswer["cure_part"]>) {
    try {
      await data(api.POST("/api/v1/parts", { body: { ...part, id: null } as Part }));
      await client.invalidateQueries({ queryKey: ["parts"] });
      await ask({ rig, wished: true, shop, keep: [...keep] });
    } catch (error) {
      notification.error({ message: terms.notAddedToTheShelf, description: words(error) });
    }
  }

  return (
    <section className="find-rings" aria-label={terms.findRings}>
      <div className="options-line">
        <Checkbox checked={wished} onChange={(event) => setWished(event.target.checked)}>
          {terms.wishList}
        </Checkbox>
        <Checkbox checked={shop} onChange={(event) => setShop(event.target.checked)}>
          {terms.usualShopSizes}
        </Checkbox>
        {rings.map(({ entry, index }) => (
          <Checkbox
            key={index}
            checked={keep.includes(index)}
            onChange={(event) =>
              setKeep(event.target.checked ? [...keep, index] : keep.filter((other) => other !== index))
            }
          >
            <Phrase of={terms.keepPart} with={{ part: entry.part.name }} />
          </Checkbox>
        ))}
      </div>
      {fault && <p className="fault">{fault}</p>}
      {answer?.why_not?.text && (
        <p className="quiet">
          <Says text={answer.why_not} />
        </p>
      )}
      {answer?.for_reach && answer.choices.length > 0 && (
        <p className="quiet">{terms.noDistanceIsAskedForHere}</p>
      )}
      {answer && answer.choices.length > 0 && (
        <ol data-testid="ring-choices" className="ring-choices">
          {answer.choices.map((choice) => (
            <li key={choice.label.text}>
              <Choice choice={choice} onLay={() => patch([...choice.change], choice.label.text)} />
            </li>
          ))}
        </ol>
      )}
      {answer?.proof?.text && (
        <div className="proof">
          <p>
            <Mark verdict="problem" size={12} /> <Says text={answer.proof} />.
          </p>
          {answer.nearest && (
            <p className="quiet">
              <Phrase
                of={terms.nearestPartsErrorMmMmOff}
                with={{
                  parts: answer.nearest.parts.map((one) => one.text).join(", "),
                  error_mm: <Num of="RingChoice.error_mm">{signed(answer.nearest.error_mm)}</Num>,
                }}
              />
            </p>
          )}
          {answer.cure.text && (
            <p>
              <Phrase of={terms.itWouldTakeCure} with={{ cure: <Says text={answer.cure} /> }} />{" "}
              {answer.cure_part && (
                <Button size="small" onClick={() => answer.cure_part && void wish(answer.cure_part)}>
                  {terms.putItOnTheWishList}
                </Button>
              )}
            </p>
          )}
        </div>
      )}
    </section>
  );
}

function signed(value: number): string {
  const text = fixed(Math.abs(value), 2);
  return text === "0.00" ? text : `${value > 0 ? "+" : "−"}${text}`;
}

function Choice({ choice, onLay }: { choice: RingChoice; onLay: () => void }) {
  return (
    <button type="button" onClick={onLay} disabled={choice.change.length === 0}>
      <span className="choice-parts">
        <Says text={choice.label} still />
      </span>
      <span className="quiet num">
        <Num of="RingChoice.error_mm" still>
          {choice.drawtube_mm == null
            ? `${signed(choice.error_mm)} mm ± ${fixed(choice.rss_mm, 2)}`
            : phrase(terms.drawtubeDrawtubeMmMmOut, { drawtube_mm: fixed(choice.drawtube_mm, 1) })}
        </Num>
        {choice.to_buy.length > 0 && phrase(terms.toBuyToBuy, { to_buy: choice.to_buy.length })}
      </span>
    </button>
  );
}
