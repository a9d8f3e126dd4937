/** The Aim step: frame a target by hand on real sky. */

import { useQuery } from "@tanstack/react-query";
import { Button, InputNumber } from "antd";
import { type ReactNode, useEffect, useState } from "react";
import { api, data, dataAs, words } from "../../api/client";
import type { Board, Footprint, FootprintAnswer, Framing, Target } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { degrees, fixed, hours } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { TargetSearch } from "../../kit/TargetSearch";
import { keyOf, TargetTabs } from "../../kit/TargetTabs";
import { useLatest } from "../../kit/useLatest";
import { sizeWords, targetSize, whatIs } from "../../kit/words";
import { terms } from "../../terms/aim";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { EarlierFramings, earlierOf } from "./EarlierFramings";
import { NightStrip } from "./NightStrip";
import { type OtherRig, OtherRigs } from "./OtherRigs";
import { type Change, SkyPatch } from "./SkyPatch";
import { useNight } from "./useNight";
import { useShown } from "./useShown";
import "./aim.module.css";

/** A finding of another rig leads here by name, the Board by id. */
const isWanted = (target: Target, wanted: string | null) =>
  keyOf(target) === wanted || target.name === wanted;

export default function Aim({ rigId, rig, commit, target, setTarget }: StepProps) {
  const framings = rig.framings ?? [];
  const wanted = framings.findIndex((framing) => isWanted(framing.target, target));
  const index = Math.max(wanted, 0);
  const [adding, setAdding] = useState(false);
  const board = useQuery({ queryKey: ["board"], queryFn: () => dataAs<Board>(api.GET("/api/v1/board")) });
  const listed = board.data?.targets ?? [];
  const known = target && wanted < 0 ? listed.find((entry) => isWanted(entry, target)) : undefined;
  // On a later page of the Board.
  const further = useQuery({
    queryKey: ["target", target],
    queryFn: () =>
      data(api.GET("/api/v1/targets/{entry_id}", { params: { path: { entry_id: target ?? "" } } })),
    enabled: Boolean(target) && wanted < 0 && known === undefined && board.isSuccess,
  });
  const asked = known ?? (target && wanted < 0 ? further.data?.body : undefined);
  const [fault, setFault] = useState<string | null>(null);

  async function frame(picked: Target) {
    try {
      const [before] = await earlierOf(rigId, picked);
      const framing = before
        ? { ...before.framing, target: picked, night: null }
        : await data(api.POST("/api/v1/sky/framing", { body: { rig, target: picked } }));
      commit(
        (now) => ({ ...now, framings: [...(now.framings ?? []), framing] }),
        phrase(terms.targetFramed, {
          target: picked.name,
          as: before && phrase(terms.asInRevisionRevision, { revision: before.revision }),
        }),
      );
      setTarget(keyOf(picked));
      setAdding(false);
    } catch (error) {
      setFault(words(error));
    }
  }

  const current = asked ? undefined : framings[index];
  return (
    <div className="aim">
      <TargetTabs
        targets={framings.map((framing) => framing.target)}
        chosen={current?.target}
        choose={setTarget}
      >
        {asked && (
          <button type="button" aria-pressed="true">
            {asked.name}
          </button>
        )}
        <Button onClick={() => setAdding(!adding)}>{common.addATarget}</Button>
      </TargetTabs>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {adding && <TargetSearch label={terms.addATargetToThisRig} onPick={(picked) => void frame(picked)} />}
      {asked && !adding && (
        <p className="empty">
          <Phrase of={terms.rigDoesNotFrameAskedYet} with={{ rig: rig.name, asked: asked.name }} />{" "}
          <Button type="primary" onClick={() => void frame(asked)}>
            <Phrase of={terms.frameAsked} with={{ asked: asked.name }} />
          </Button>
        </p>
      )}
      {!current && !asked && !adding && <p className="empty">{terms.noTargetYetAddOneBy}</p>}
      {current && (
        <OneFraming
          key={keyOf(current.target)}
          rigId={rigId}
          rig={rig}
          index={index}
          framing={current}
          commit={commit}
          others={board.data?.rows.filter((row) => row.rig_id !== rigId && row.field) ?? []}
        />
      )}
    </div>
  );
}

interface OneProps extends Pick<StepProps, "rigId" | "rig" | "commit"> {
  index: number;
  framing: Framing;
  others: OtherRig[];
}

function OneFraming({ rigId, rig, index, framing, commit, others }: OneProps) {
  const [shownOthers, setShownOthers] = useState<string[]>([]);
  const [drawn, setDrawn] = useState<{
    footprint: Footprint;
    others: { rig_id: string; name: string; footprint: Footprint }[];
    view: { ra_deg: number; dec_deg: number };
    listed: Target | null;
  } | null>(null);
  // A moon or planet stands where it does on the night, not where it stood when it was framed.
  const target = drawn?.footprint.framing.target ?? framing.target;
  const view = drawn?.view ?? { ra_deg: framing.target.ra_deg, dec_deg: framing.target.dec_deg };
  const night = useNight(rig, framing);
  const [because, setBecause] = useState("");
  const [fault, setFault] = useState("");
  const [zoom, setZoom] = useState(1);

  const drawing = useShown();
  const ask = useLatest(
    async (change: Change) => {
      const { move_to = null, outline = null, ...rest } = change;
      const framings = (rig.framings ?? []).map((entry, i) => (i === index ? { ...entry, ...rest } : entry));
      return dataAs<FootprintAnswer>(
        api.POST("/api/v1/sky/footprint", {
          body: { rig: { ...rig, framings }, framing: index, move_to, outline, others: shownOthers },
        }),
      );
    },
    (answer, asked) => {
      if (Object.keys(asked).length === 0) drawing.drawn();
      setBecause(answer.because.text ?? "");
      setDrawn(
        answer.footprint && answer.view
          ? {
              footprint: answer.footprint,
              others: [...answer.others],
              view: answer.view,
              listed: answer.listed ?? null,
            }
          : null,
      );
    },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew whenever the rig or the overlay changes
  useEffect(() => {
    drawing.rig();
    void ask({});
  }, [rig, shownOthers, index]);

  /** Only what was changed is written, over whatever stands there by then: two changes in a row never undo each other. */
  const alter = (change: Partial<Framing>, note: string) =>
    commit(
      (now) => ({
        ...now,
        framings: (now.framings ?? []).map((entry, i) => (i === index ? { ...entry, ...change } : entry)),
      }),
      note,
    );
  const settle = async ({ move_to, outline, ...rest }: Change, note: string) => {
    drawing.keeping();
    let failed = false;
    try {
      if (!move_to && !outline) return alter(rest, note);
      const answer = await dataAs<FootprintAnswer>(
        api.POST("/api/v1/sky/footprint", { body: { rig, framing: index, move_to, outline, others: [] } }),
      );
      failed = !answer.footprint;
      if (!answer.footprint) return;
      const { target, centre_ra_deg, centre_dec_deg } = answer.footprint.framing;
      alter({ ...rest, target, ...(move_to ? { centre_ra_deg, centre_dec_deg } : {}) }, note);
      setFault("");
    } catch (error) {
      failed = true;
      setFault(phrase(terms.theFootprintIsNotSavedWhere, { error: words(error) }));
    } finally {
      drawing.kept(failed);
    }
  };

  const footprint = drawn?.footprint;
  const size = (target.major_arcmin ?? 10) / 60;
  const reach =
    Math.max(footprint ? Math.hypot(footprint.width_deg, footprint.height_deg) / 2 : 0.5, size / 2) * 1.2;
  const radius = Math.min(28, reach / zoom);
  const live = footprint?.framing ?? framing;
  const needed = footprint?.tiles_needed;
  const tiles = (live.columns ?? 1) * (live.rows ?? 1);
  const turn = Math.round(footprint?.turn_deg ?? 0);

  if (because)
    return (
      <p className="empty">
        <Phrase of={terms.theFieldCannotBeDrawnBecause} with={{ because }} />
      </p>
    );
  return (
    <div className="aim-body">
      <div className="aim-sky">
        <p className="aim-words quiet">
          <Num of="Target.ra_deg">{hours(target.ra_deg)}</Num>{" "}
          <Num of="Target.dec_deg">{degrees(target.dec_deg)}</Num> · {whatIs(target)}
          {target.body && target.major_arcmin
            ? phrase(terms.majorArcminOnTheNight, { major_arcmin: sizeWords(target.major_arcmin) })
            : ""}
        </p>
        {footprint?.size_words?.text && (
          <p
            data-testid="size-words"
            className={`aim-words quiet ${target.size_doubtful ? "doubtful" : ""}`}
            title={terms.drawTheEndsOfTheOutline}
          >
            <Phrase
              of={terms.sizeSizeWords}
              with={{ size_words: <Says text={footprint.size_words} of="Footprint.size_words" /> }}
            />
            {drawn?.listed && (
              <button
                type="button"
                className="plain-button link"
                onClick={() => alter({ target: drawn.listed as Target }, terms.sizeAsListed)}
              >
                <Phrase of={terms.takeTheListsListed} with={{ listed: targetSize(drawn.listed) }} />
              </button>
            )}
          </p>
        )}
        <SkyPatch
          view={view}
          radius={radius}
          footprint={footprint ?? null}
          target={target}
          up={night.data?.night.up}
          others={drawn?.others ?? []}
          onPreview={(change) => void ask(change)}
          onSettle={(change, note) => void settle(change, note)}
          onGiveUp={() => void ask({})}
          shown={drawing.shown}
          onZoom={(by) => setZoom((now) => Math.max(0.2, Math.min(12, now * by)))}
        />
        {fault && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
        <NightStrip rigId={rigId} rig={rig} index={index} framing={framing} commit={commit} />
      </div>
      <div data-testid="aim-side" className="aim-side">
        <Reading
          value={
            footprint ? (
              <Num of="Footprint.share_inside">{`${Math.round(footprint.share_inside * 100)}%`}</Num>
            ) : (
              "…"
            )
          }
          words={terms.ofTheTargetInsideTheFootprint}
        />
        <Reading
          value={<Num of="Framing.position_angle_deg">{`${fixed(live.position_angle_deg ?? 90, 0)}°`}</Num>}
          words={phrase(terms.positionAngleTurn, {
            turn:
              turn === 0
                ? terms.landscape
                : Math.abs(turn) === 90
                  ? terms.portrait
                  : phrase(terms.turnTheCameraTurnWhichFrom, {
                      turn: Math.abs(turn),
                      which: turn > 0 ? terms.counterClockwise : terms.clockwise,
                    }),
          })}
        />
        <Reading
          value={tiles === 1 ? terms.oneFootprint : phrase(terms.tilesTiles, { tiles })}
          words={
            footprint ? (
              <Phrase
                of={terms.widthDegHeightDegInAll}
                with={{
                  width_deg: <Num of="Footprint.width_deg">{fixed(footprint.width_deg, 2)}</Num>,
                  height_deg: <Num of="Footprint.height_deg">{fixed(footprint.height_deg, 2)}</Num>,
                }}
              />
            ) : (
              ""
            )
          }
        />
        <p data-testid="centre" className="centre quiet num">
          <Num of="Framing.centre_ra_deg">{hours(live.centre_ra_deg)}</Num>{" "}
          <Num of="Framing.centre_dec_deg">{degrees(live.centre_dec_deg)}</Num>
        </p>
        <div className="mosaic" role="group" aria-label={terms.mosaic}>
          {(["columns", "rows"] as const).map((side) => (
            <label key={side}>
              {side}
              <InputNumber
                min={1}
                max={30}
                size="small"
                value={live[side] ?? 1}
                onChange={(value) => value && alter({ [side]: value }, terms.mosaicChanged)}
              />
            </label>
          ))}
          <label>
            {terms.overlap}
            <InputNumber
              min={0}
              max={50}
              size="small"
              value={Math.round((live.overlap ?? 0.12) * 100)}
              onChange={(value) => value !== null && alter({ overlap: value / 100 }, terms.overlapChanged)}
            />
          </label>
        </div>
        <div className="button-row">
          {needed &&
            needed[0] * needed[1] > 1 &&
            needed[0] * needed[1] <= 400 &&
            (needed[0] !== live.columns || needed[1] !== live.rows) && (
              <Button
                onClick={() =>
                  alter(
                    {
                      target,
                      centre_ra_deg: target.ra_deg,
                      centre_dec_deg: target.dec_deg,
                      columns: Math.min(30, needed[0]),
                      rows: Math.min(30, needed[1]),
                    },
                    terms.mosaicLaid,
                  )
                }
              >
                <Phrase
                  of={terms.coverItNeededNeeded2Tiles}
                  with={{ needed: needed[0], needed2: needed[1] }}
                />
              </Button>
            )}
          <Button
            onClick={() =>
              alter({ position_angle_deg: ((live.position_angle_deg ?? 90) + 90) % 180 }, terms.turnedBy90)
            }
          >
            {terms.landscapePortrait}
          </Button>
          {framing.target.position_angle_deg !== live.position_angle_deg && (
            <Button
              onClick={() =>
                alter(
                  { position_angle_deg: framing.target.position_angle_deg ?? 0 },
                  terms.turnedAlongTheTarget,
                )
              }
            >
              {terms.alongTheTarget}
            </Button>
          )}
          <Button
            onClick={() =>
              alter({ target, centre_ra_deg: target.ra_deg, centre_dec_deg: target.dec_deg }, "centred")
            }
          >
            {terms.centre}
          </Button>
          <Button
            onClick={() =>
              commit(
                (now) => ({ ...now, framings: (now.framings ?? []).filter((_, i) => i !== index) }),
                phrase(terms.targetTakenOff, { target: framing.target.name }),
              )
            }
          >
            {terms.takeOffThisRig}
          </Button>
        </div>
        <EarlierFramings rigId={rigId} target={framing.target} onPick={alter} />
        <OtherRigs rows={others} target={framing.target} shown={shownOthers} show={setShownOthers} />
      </div>
    </div>
  );
}

function Reading({ value, words: text }: { value: ReactNode; words: ReactNode }) {
  return (
    <div data-testid="reading" className="reading">
      <strong>{value}</strong>
      <span className="quiet">{text}</span>
    </div>
  );
}
