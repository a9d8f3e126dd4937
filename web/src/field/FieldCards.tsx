/** One card of the build at a time, large; ticks are kept on the phone until they are delivered. */
import { useState } from "react";
import type { BuildView } from "../api/types";
import { SetAside } from "../kept/SetAside";
import { Exploded } from "../steps/build/Exploded";
import { tickNamed, useTicks } from "../steps/build/useTicks";
import "../steps/build/build.module.css";

interface Props {
  rigId: string;
  build: BuildView | null;
  back: () => void;
}

export function FieldCards({ rigId, build, back }: Props) {
  const ticks = useTicks(rigId);
  const [way, setWay] = useState<"up" | "down">("up");
  const [chosen, setChosen] = useState<string | null>(null);
  const cards = (way === "up" ? build?.cards : build?.down) ?? [];
  const titleOf = (key: string) => cards.find((one) => one.key === key)?.title ?? key;
  const unsaved = ticks.refusals.aside.length;
  const open = cards.filter((card) => !ticks.done.has(card.key));
  const card = cards.find((one) => one.key === chosen) ?? open[0];
  const finish = () => {
    if (!card) return;
    ticks.tick(card.key, true);
    setChosen(null);
  };
  const undo = () => {
    const last = [...cards].reverse().find((one) => ticks.done.has(one.key));
    if (!last) return back();
    ticks.tick(last.key, false);
    setChosen(last.key);
  };
  return (
    <section className="field-now" data-testid="field-cards">
      <p className="num">
        {card
          ? `card ${cards.indexOf(card) + 1} of ${cards.length}${card.first ? " · the first time" : ""}`
          : `${cards.length} cards, all done`}
      </p>
      <progress max={Math.max(cards.length, 1)} value={cards.length - open.length} aria-label="Cards done" />
      {build && card && <Exploded view={build} lit={card.parts} />}
      {card ? (
        <>
          <h1>{card.title}</h1>
          {card.does && <p>{card.does}</p>}
          {card.mark && (
            <p>
              <strong>Mark: {card.mark}</strong>
            </p>
          )}
          {card.check && (
            <p>
              <strong>Check: {card.check}</strong>
            </p>
          )}
          {card.tool && <p>Tool: {card.tool}</p>}
          {card.after_sunset && (
            <p data-testid="after-sunset">
              <strong>Not before sunset</strong>
            </p>
          )}
          {card.caution && <p className="field-caution">{card.caution}</p>}
        </>
      ) : (
        <h1>
          {build ? (way === "up" ? "It stands, and it runs" : "All is packed") : "The cards are not here yet"}
        </h1>
      )}
      <div className="field-buttons">
        <button type="button" className="field-main" disabled={!card} onClick={finish}>
          Done
        </button>
        <div className="field-pair">
          <button type="button" onClick={undo}>
            Back
          </button>
          <button
            type="button"
            disabled={!card}
            onClick={() => card && setChosen(open[open.indexOf(card) + 1]?.key ?? null)}
          >
            Later
          </button>
        </div>
        <div className="field-pair">
          <button type="button" onClick={() => setWay(way === "up" ? "down" : "up")}>
            {way === "up" ? "The way down" : "The way up"}
          </button>
          <button type="button" onClick={back}>
            The night
          </button>
        </div>
      </div>
      <p className="field-foot" data-testid="field-ticks">
        {ticks.waiting > 0
          ? `Kept on this phone: ${ticks.waiting} ${ticks.waiting === 1 ? "tick" : "ticks"}, to be delivered`
          : unsaved > 0
            ? `${unsaved} ${unsaved === 1 ? "tick" : "ticks"} not saved`
            : `Build ${ticks.build}: all ticks delivered`}
      </p>
      {ticks.fault && <p className="field-foot">{ticks.fault}</p>}
      <SetAside refusals={ticks.refusals} named={(tick) => tickNamed(tick, titleOf(tick.card))} />
      {ticks.conflicts.map((one) => (
        <p key={one} className="field-foot">
          {one}
        </p>
      ))}
    </section>
  );
}
