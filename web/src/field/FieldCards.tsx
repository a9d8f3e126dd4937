/** One card of the build at a time, large; ticks are kept on the phone until they are delivered. */
import { useState } from "react";
import type { AssemblyView } from "../api/types";
import { SetAside } from "../kept/SetAside";
import { Says } from "../kit/Says";
import { Exploded } from "../steps/assembly/Exploded";
import { tickNamed, useTicks } from "../steps/assembly/useTicks";
import { terms as common } from "../terms/common";
import { terms } from "../terms/field";
import { Phrase, phrase } from "../terms/phrase";
import "../steps/assembly/assembly.module.css";

interface Props {
  rigId: string;
  build: AssemblyView | null;
  back: () => void;
}

export function FieldCards({ rigId, build, back }: Props) {
  const ticks = useTicks(rigId);
  const [way, setWay] = useState<"up" | "down">("up");
  const [chosen, setChosen] = useState<string | null>(null);
  const cards = (way === "up" ? build?.cards : build?.down) ?? [];
  const titleOf = (key: string) => cards.find((one) => one.key === key)?.title.text ?? key;
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
          ? phrase(terms.cardCardsOfCards2Which, {
              cards: cards.indexOf(card) + 1,
              cards2: cards.length,
              which: card.first ? common.theFirstTime : "",
            })
          : phrase(terms.cardsCardsAllDone, { cards: cards.length })}
      </p>
      <progress
        max={Math.max(cards.length, 1)}
        value={cards.length - open.length}
        aria-label={common.cardsDone}
      />
      {build && card && <Exploded view={build} lit={card.parts} />}
      {card ? (
        <>
          <h1>
            <Says text={card.title} />
          </h1>
          {card.does.text && (
            <p>
              <Says text={card.does} />
            </p>
          )}
          {card.mark.text && (
            <p>
              <strong>
                <Phrase of={common.markMark} with={{ mark: <Says text={card.mark} /> }} />
              </strong>
            </p>
          )}
          {card.check.text && (
            <p>
              <strong>
                <Phrase of={common.checkCheck} with={{ check: <Says text={card.check} /> }} />
              </strong>
            </p>
          )}
          {card.tool.text && (
            <p>
              <Phrase of={common.toolTool} with={{ tool: <Says text={card.tool} /> }} />
            </p>
          )}
          {card.after_sunset && (
            <p data-testid="after-sunset">
              <strong>{common.notBeforeSunset}</strong>
            </p>
          )}
          {card.caution.text && (
            <p className="field-caution">
              <Says text={card.caution} />
            </p>
          )}
        </>
      ) : (
        <h1>
          {build
            ? way === "up"
              ? common.itStandsAndItRuns
              : common.allIsPacked
            : terms.theCardsAreNotHereYet}
        </h1>
      )}
      <div className="field-buttons">
        <button type="button" className="field-main" disabled={!card} onClick={finish}>
          {common.done}
        </button>
        <div className="field-pair">
          <button type="button" onClick={undo}>
            {common.back}
          </button>
          <button
            type="button"
            disabled={!card}
            onClick={() => card && setChosen(open[open.indexOf(card) + 1]?.key ?? null)}
          >
            {common.later}
          </button>
        </div>
        <div className="field-pair">
          <button type="button" onClick={() => setWay(way === "up" ? "down" : "up")}>
            {way === "up" ? terms.theWayDown : terms.theWayUp}
          </button>
          <button type="button" onClick={back}>
            {terms.theNight}
          </button>
        </div>
      </div>
      <p className="field-foot" data-testid="field-ticks" data-waiting={ticks.waiting}>
        {ticks.waiting > 0
          ? phrase(terms.keptOnThisPhoneWaitingWhich, {
              waiting: ticks.waiting,
              which: ticks.waiting === 1 ? common.tick : terms.ticks,
            })
          : unsaved > 0
            ? phrase(terms.unsavedWhichNotSaved, {
                unsaved,
                which: unsaved === 1 ? common.tick : terms.ticks,
              })
            : phrase(terms.buildBuildAllTicksDelivered, { build: ticks.build })}
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
