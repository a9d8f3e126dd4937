/** The Build step: one large card, the rig taken apart beside it, the order of all cards; ticks kept from any device. */

import { useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { Fragment, useState } from "react";
import { api, dataAs } from "../../api/client";
import type { AssemblyView, Rig, WorkedMarks } from "../../api/types";
import { useKeys } from "../../app/keys";
import { SetAside } from "../../kept/SetAside";
import { Num } from "../../kit/Calculated";
import { arrow } from "../../kit/plot";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { Worked } from "../../log/Worked";
import { useDrawn } from "../../rig/useDrawn";
import { terms } from "../../terms/assembly";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { Exploded } from "./Exploded";
import { tickNamed, useTicks } from "./useTicks";
import "./assembly.module.css";

type Building = NonNullable<Rig["build"]>;
type Card = AssemblyView["cards"][number];
const KEPT = [
  { value: "apart", label: terms.takenApartEachNight },
  { value: "train", label: terms.theTrainStaysTogether },
  { value: "on_tube", label: terms.trainAndRidersStayOnThe },
  { value: "on_mount", label: terms.allStaysOnTheMount },
] as const;
const GROUND = [
  { value: "", label: terms.groundNotNamed },
  { value: "grass", label: terms.grass },
  { value: "soft", label: terms.softGround },
  { value: "slab", label: terms.aSlab },
] as const;
const POLAR = [
  { value: "", label: terms.asTheRigAllows },
  { value: "camera", label: terms.byTheCamera },
  { value: "polar_scope", label: terms.byThePolarScope },
  { value: "drift", label: terms.byDrift },
] as const;

export default function Assembly({ rigId, rig, commit }: StepProps) {
  const ticks = useTicks(rigId);
  const [way, setWay] = useState<"up" | "down">("up");
  const [chosen, setChosen] = useState<string | null>(null);
  // The next build asks no more for what is done once, and knows what the last one took.
  const { view, fault } = useDrawn(
    rig,
    (given) => dataAs<AssemblyView>(api.POST("/api/v1/assembly", { body: { rig: given, rig_id: rigId } })),
    ticks.build,
  );
  const marks = useQuery({
    queryKey: ["marks", rigId],
    queryFn: () =>
      dataAs<WorkedMarks>(api.GET("/api/v1/log/marks/{rig_id}", { params: { path: { rig_id: rigId } } })),
  });
  const building = rig.build ?? {};
  const set = (change: Partial<Building>, note: string) =>
    commit((now) => ({ ...now, build: { ...(now.build ?? {}), ...change } }), note);
  const cards = (way === "up" ? view?.cards : view?.down) ?? [];
  const titleOf = (key: string) => cards.find((card) => card.key === key)?.title.text ?? key;
  const open = cards.filter((card) => !ticks.done.has(card.key));
  const current = cards.find((card) => card.key === chosen) ?? open[0];
  const at = current ? cards.indexOf(current) : cards.length;
  const waits = (card: Card) =>
    cards.filter((other) => card.after.includes(other.key) && !ticks.done.has(other.key));
  const finish = () => {
    if (!current) return;
    ticks.tick(current.key, true);
    setChosen(null);
  };
  const back = () => {
    const last = [...cards].reverse().find((card) => ticks.done.has(card.key));
    if (!last) return;
    ticks.tick(last.key, false);
    setChosen(last.key);
  };
  useKeys("Build", [
    { key: "n", does: terms.thisCardIsDone, run: finish },
    { key: "b", does: "back", run: back },
  ]);
  return (
    <div className="build-step">
      <div className="gear-line">
        <Select
          aria-label={terms.whatStaysTogether}
          value={building.kept ?? "apart"}
          options={[...KEPT]}
          onChange={(kept) => set({ kept }, terms.whatStaysTogether2)}
        />
        <Select
          aria-label={terms.ground}
          value={building.ground ?? ""}
          options={[...GROUND]}
          onChange={(ground: "" | "grass" | "soft" | "slab") =>
            set({ ground: ground || null }, terms.groundNamed)
          }
        />
        <Select
          aria-label={terms.polarAlignment}
          value={building.polar ?? ""}
          options={[...POLAR]}
          onChange={(polar: "" | "camera" | "polar_scope" | "drift") =>
            set({ polar: polar || null }, terms.polarAlignmentChosen)
          }
        />
        <a className="link" href={`/api/v1/rigs/${rigId}/assembly.pdf`}>
          {terms.onPaperPdf}
        </a>
      </div>
      {fault && <p className="fault">{fault}</p>}
      <SetAside refusals={ticks.refusals} named={(tick) => tickNamed(tick, titleOf(tick.card))} />
      {view?.notes.map((note) => (
        <p key={note.text} className="empty">
          <Says text={note} />
        </p>
      ))}
      {view && cards.length > 0 && (
        <>
          <div className="build-head">
            <div className="way-choice" role="toolbar" aria-label={terms.upOrDown}>
              <button type="button" aria-pressed={way === "up"} onClick={() => setWay("up")}>
                {terms.up}
              </button>
              <button type="button" aria-pressed={way === "down"} onClick={() => setWay("down")}>
                {terms.down}
              </button>
            </div>
            <p data-testid="assembly-progress" className="num">
              <Phrase
                of={terms.cardsOfCards2CardsDone}
                with={{ cards: cards.length - open.length, cards2: cards.length }}
              />
              {way === "up" && (
                <span className="quiet">
                  {" "}
                  <Phrase
                    of={terms.openMinToGoMinutesWords}
                    with={{
                      open: (
                        <Num of="BuildCard.taken_min">
                          {fixed(
                            open.reduce((sum, card) => sum + (card.taken_min ?? card.minutes), 0),
                            0,
                          )}
                        </Num>
                      ),
                      minutes_words: <Says text={view.minutes_words} />,
                    }}
                  />
                </span>
              )}
            </p>
            <div
              className="build-bar"
              role="progressbar"
              aria-label={common.cardsDone}
              aria-valuemin={0}
              aria-valuemax={cards.length}
              aria-valuenow={cards.length - open.length}
            >
              <span style={{ width: `${((cards.length - open.length) / cards.length) * 100}%` }} />
            </div>
          </div>
          <div className="build-body">
            <div>
              <Exploded view={view} lit={current?.parts ?? []} />
              {current ? (
                <article data-testid="card" className="card" aria-live="polite">
                  <p className="quiet num">
                    <Phrase
                      of={terms.cardAtOfCardsWhichPlace}
                      with={{
                        at: at + 1,
                        cards: cards.length,
                        which: current.first ? common.theFirstTime : "",
                        place: <Says text={current.place} />,
                        taken_min: (
                          <Num of="BuildCard.taken_min">{fixed(current.taken_min ?? current.minutes, 1)}</Num>
                        ),
                      }}
                    />
                  </p>
                  <h2>
                    <Says text={current.title} />
                  </h2>
                  {current.does.text && (
                    <p>
                      <Says text={current.does} />
                    </p>
                  )}
                  {current.mark.text && (
                    <p>
                      <strong>
                        <Phrase of={common.markMark} with={{ mark: <Says text={current.mark} /> }} />
                      </strong>
                    </p>
                  )}
                  {marks.data && way === "up" && (
                    <Worked
                      rigId={rigId}
                      marks={marks.data}
                      card={current.key}
                      into={async (mark) => {
                        const made = await dataAs<Rig>(
                          api.POST("/api/v1/log/marks-taken", { body: { rig, mark } as never }),
                        );
                        commit(() => made, terms.aMarkThatWorkedTakenOver);
                      }}
                    />
                  )}
                  {current.check.text && (
                    <p>
                      <Phrase of={common.checkCheck} with={{ check: <Says text={current.check} /> }} />
                    </p>
                  )}
                  {current.tool.text && (
                    <p className="quiet">
                      <Phrase of={common.toolTool} with={{ tool: <Says text={current.tool} /> }} />
                    </p>
                  )}
                  {current.after_sunset && (
                    <p data-testid="after-sunset">
                      <strong>{common.notBeforeSunset}</strong>
                    </p>
                  )}
                  {current.caution.text && (
                    <p className="card-caution">
                      <Says text={current.caution} />
                    </p>
                  )}
                  {waits(current).length > 0 && (
                    <p className="fault" role="status">
                      <Phrase
                        of={terms.notYetCurrent}
                        with={{
                          current: waits(current)
                            .map((card) => card.title.text)
                            .join("; "),
                        }}
                      />
                    </p>
                  )}
                  <div className="card-buttons">
                    <Button
                      type="primary"
                      size="large"
                      onClick={finish}
                      disabled={ticks.done.has(current.key)}
                    >
                      {common.done}
                    </Button>
                    <Button size="large" onClick={back}>
                      {common.back}
                    </Button>
                    <Button
                      size="large"
                      onClick={() => setChosen(open[open.indexOf(current) + 1]?.key ?? null)}
                    >
                      {common.later}
                    </Button>
                  </div>
                </article>
              ) : (
                <article data-testid="card" className="card">
                  <h2>{way === "up" ? common.itStandsAndItRuns : common.allIsPacked}</h2>
                  <Button onClick={() => void ticks.again().then(() => setWay("up"))}>
                    {terms.beginTheNextBuild}
                  </Button>
                </article>
              )}
            </div>
            <ol data-testid="cards" className="cards">
              {cards.map((card) => (
                <li key={card.key} className={ticks.done.has(card.key) ? "done" : ""}>
                  <button
                    type="button"
                    aria-current={card === current ? "step" : undefined}
                    onClick={() => setChosen(card.key)}
                    onKeyDown={(event) => {
                      const by = arrow(event)?.y;
                      if (!by) return;
                      event.preventDefault();
                      const row = event.currentTarget.closest("li");
                      const next = by > 0 ? row?.previousElementSibling : row?.nextElementSibling;
                      next?.querySelector("button")?.focus();
                      const index = cards.indexOf(card) - Math.sign(by);
                      setChosen(cards[index]?.key ?? card.key);
                    }}
                  >
                    <Says text={card.title} still />
                  </button>
                  {way === "up" && (
                    <Button
                      size="small"
                      type="text"
                      aria-label={phrase(common.leaveOutTitle, { title: card.title.text })}
                      onClick={() =>
                        set(
                          { left_out: [...(building.left_out ?? []), card.key] },
                          phrase(terms.leftOutTitle, { title: card.title.text }),
                        )
                      }
                    >
                      {terms.leaveOut}
                    </Button>
                  )}
                </li>
              ))}
            </ol>
          </div>
          <p className="quiet" data-testid="ticks-told" data-waiting={ticks.waiting}>
            {ticks.waiting > 0
              ? phrase(terms.waitingWhichKeptOnThisDevice, {
                  waiting: ticks.waiting,
                  which: ticks.waiting === 1 ? terms.tickIs : terms.ticksAre,
                })
              : phrase(terms.buildBuildAllTicksDelivered, { build: ticks.build })}
          </p>
          {ticks.fault && <p className="fault">{ticks.fault}</p>}
          {ticks.conflicts.map((one) => (
            <p key={one} className="fault">
              {one}
            </p>
          ))}
          {view.left_out.length > 0 && (
            <p>
              {terms.leftOut}{" "}
              {view.left_out.map((card) => (
                <Button
                  key={card.key}
                  size="small"
                  onClick={() =>
                    set(
                      { left_out: (building.left_out ?? []).filter((key) => key !== card.key) },
                      phrase(terms.putBackTitle, { title: card.title.text }),
                    )
                  }
                >
                  <Says text={card.title} still />
                </Button>
              ))}
            </p>
          )}
          <details className="build-bring">
            <summary>
              <Phrase
                of={terms.whatToBringBring}
                with={{
                  bring: (
                    <span className="quiet">
                      <Phrase
                        of={terms.bringThingsToolsTools}
                        with={{
                          bring: view.bring.length,
                          tools: view.tools.map((one) => one.text).join(", "),
                        }}
                      />
                    </span>
                  ),
                }}
              />
            </summary>
            {view.loads.length > 0 && (
              <p>
                <Phrase
                  of={terms.toCarryInOnePieceEach}
                  with={{
                    loads: (
                      <span className="quiet">
                        {view.loads.map((one, i) => (
                          <Fragment key={one.text}>
                            {i > 0 && " · "}
                            <Says text={one} of="AssemblyView.loads" />
                          </Fragment>
                        ))}
                      </span>
                    ),
                  }}
                />
              </p>
            )}
            <ul className="plain-list bring-list">
              {view.bring.map((name) => (
                <li key={name.text}>
                  <Says text={name} />
                </li>
              ))}
            </ul>
          </details>
        </>
      )}
    </div>
  );
}
