/** The night as it runs, or as stand-ins play it: the time line with its needle, the sky above, what is done now in words. */

import { Button, Select } from "antd";
import { type RefObject, useEffect, useRef, useState } from "react";
import { words } from "../api/client";
import type { NightState, Rehearsal, SessionKept } from "../api/types";
import { SetAside } from "../kept/SetAside";
import { Says } from "../kit/Says";
import { told } from "../log/Nights";
import { useClock, useShown, wall } from "../running/clock";
import { type Laid, TimeLine } from "../running/TimeLine";
import { markNamed, type RunningNight } from "../running/useNight";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/tonight";

const SLOT_S = 300;
const BAND = 30;
const SPEEDS = [
  { value: 0, label: terms.held },
  { value: 1, label: terms.asInTheNight },
  { value: 60, label: "60 ×" },
  { value: 300, label: "300 ×" },
  { value: 1200, label: "1,200 ×" },
];

interface Props {
  running: RunningNight;
  state: NightState;
  ended: (sessions: readonly SessionKept[]) => void;
}

export function Playing({ running, state, ended }: Props) {
  const clock = useClock(state);
  const needle = useRef<SVGGElement>(null);
  const seen = useRef<SVGRectElement>(null);
  const [fault, setFault] = useState("");
  const time = useShown(clock, (at) => wall(state, at));
  const over = useShown(clock, (at) => state.rehearsal != null && at >= (state.ends_s ?? 0));
  const act = (doing: Promise<unknown>) =>
    void doing.then(() => setFault("")).catch((error: unknown) => setFault(words(error)));
  const end = () => act(running.end().then(ended));
  const cloudy = state.cloud_since ?? "";
  if (!state.plan) return null;
  return (
    <section className="playing" data-testid="playing">
      <div className="tonight-choice">
        <p>
          <strong className="num playing-time">{time}</strong>{" "}
          <span className="quiet">
            {state.rehearsal
              ? phrase(terms.aRehearsalOfDayNothingOf, { day: state.plan.day })
              : phrase(terms.theNightOfDay, { day: state.plan.day })}
          </span>
        </p>
        {state.rehearsal && (
          <Select
            aria-label={terms.speedOfTheRehearsal}
            value={state.speed}
            options={SPEEDS}
            onChange={(speed: number) => act(running.hurry(speed))}
          />
        )}
        <Button onClick={() => running.mark(cloudy ? "clear" : "clouds", "", "")}>
          {cloudy ? phrase(terms.clearAgainCloudsSinceCloudy, { cloudy }) : common.clouds}
        </Button>
        <Button type={over ? "primary" : "default"} onClick={end}>
          {state.rehearsal ? terms.endTheRehearsal : terms.endTheNight}
        </Button>
      </div>
      {(fault || running.fault) && (
        <p className="fault" role="alert">
          {fault || running.fault}
        </p>
      )}
      <SetAside refusals={running.refusals} named={markNamed} />
      {state.conflicts?.map((one) => (
        <p key={one.text} className="fault">
          <Says text={one} />
        </p>
      ))}
      <TimeLine
        plan={state.plan}
        above={state.rehearsal ? BAND : 0}
        over={(laid) => <Over state={state} laid={laid} needle={needle} seen={seen} />}
      />
      <Follow clock={clock} state={state} needle={needle} seen={seen} />
      <ul className="plain-list now-list" data-testid="now">
        {(state.rigs ?? []).map((rig, k) => (
          <NowLine
            key={rig.rig_id}
            clock={clock}
            state={state}
            k={k}
            skip={(step) => running.mark("skip", rig.rig_id, step)}
          />
        ))}
      </ul>
    </section>
  );
}

/** Moves the needle with each picture; nothing is rendered for it. */
function Follow({
  clock,
  state,
  needle,
  seen,
}: {
  clock: () => number;
  state: NightState;
  needle: RefObject<SVGGElement | null>;
  seen: RefObject<SVGRectElement | null>;
}) {
  useEffect(() => {
    let request = 0;
    const move = () => {
      const at = clock() / SLOT_S;
      const [from, per] = [
        Number(needle.current?.dataset.from ?? 0),
        Number(needle.current?.dataset.per ?? 1),
      ];
      const x = Math.max(from, from + (at - Number(needle.current?.dataset.first ?? 0)) * per);
      needle.current?.setAttribute("transform", `translate(${x} 0)`);
      seen.current?.setAttribute("width", String(Math.max(0, x)));
      request = requestAnimationFrame(move);
    };
    request = requestAnimationFrame(move);
    return () => cancelAnimationFrame(request);
  }, [clock, needle, seen]);
  return <span hidden>{state.version}</span>;
}

/** What is drawn over the plan: cloud as far as it was seen, subs kept and lost, the needle. */
function Over({
  state,
  laid,
  needle,
  seen,
}: {
  state: NightState;
  laid: Laid;
  needle: RefObject<SVGGElement | null>;
  seen: RefObject<SVGRectElement | null>;
}) {
  const { x, top, runs, height, head } = laid;
  const rehearsal = state.rehearsal;
  return (
    <>
      <clipPath id="seen-so-far">
        <rect ref={seen} x={0} y={0} width={0} height={height} />
      </clipPath>
      {rehearsal && (
        <g clipPath="url(#seen-so-far)">
          <Sky sky={rehearsal.sky} x={x} top={head} />
          {rehearsal.rigs.map((rig, k) => (
            <g key={rig.rig_id} transform={`translate(0 ${top(k) + runs + 37})`} className="subs-seen">
              {rig.frames.map((one) => (
                <rect
                  key={one.start_s}
                  className={one.kept ? "sub-kept" : one.taken ? "sub-lost" : "sub-not"}
                  x={x(one.start_s / SLOT_S)}
                  width={Math.max(x((one.start_s + one.sub_s) / SLOT_S) - x(one.start_s / SLOT_S) - 0.4, 0.8)}
                  y={one.taken && !one.kept ? 3.4 : 0}
                  height={one.taken && !one.kept ? 2 : 5.4}
                  data-says={
                    one.kept
                      ? phrase(terms.keptStarsOfFwhmPxPx, { fwhm_px: one.fwhm_px })
                      : `${one.taken ? terms.lost : terms.notTaken}: ${one.why}`
                  }
                />
              ))}
            </g>
          ))}
        </g>
      )}
      <g ref={needle} className="needle" data-first={0} data-from={x(0)} data-per={x(1) - x(0)}>
        <line x1={0} x2={0} y1={head - 6} y2={height - 4} />
      </g>
    </>
  );
}

/** Cloud of the rehearsal, a bar a sample, thicker where it is. */
function Sky({ sky, x, top }: { sky: Rehearsal["sky"]; x: (slot: number) => number; top: number }) {
  const wide = x(sky.every_s / SLOT_S) - x(0);
  return (
    <g className="clouds-seen">
      <text x={4} y={top + 18}>
        {terms.cloud}
      </text>
      {sky.cloud.map((cloud, i) => (
        <rect
          key={sky.start_s + i * sky.every_s}
          x={x((sky.start_s + i * sky.every_s) / SLOT_S)}
          width={wide}
          y={top + 22 - 16 * cloud}
          height={Math.max(16 * cloud, 0.6)}
          data-says={phrase(terms.cloudWindWindMSM, {
            cloud:
              cloud > 0
                ? phrase(terms.cloudOverCloudOfTheSky, { cloud: Math.round(cloud * 100) })
                : terms.clear,
            wind_m_s: sky.wind_m_s[i],
            air_c: sky.air_c[i],
          })}
        />
      ))}
    </g>
  );
}

interface NowProps {
  clock: () => number;
  state: NightState;
  k: number;
  skip: (step: string) => void;
}

/** What a rig does now, what happened last and what is done about it. */
function NowLine({ clock, state, k, skip }: NowProps) {
  const rig = state.rigs?.[k];
  const events = state.rehearsal?.rigs[k]?.events ?? [];
  const frames = state.rehearsal?.rigs[k]?.frames ?? [];
  const at = useShown(
    clock,
    (now) => ({
      cue: rig?.cues.find((one) => one.start_s <= now && now < one.end_s),
      event: events.filter((one) => one.at_s <= now && one.does).at(-1),
      kept: frames.filter((one) => one.kept && one.start_s + one.sub_s <= now).length,
      taken: frames.filter((one) => one.taken && one.start_s + one.sub_s <= now).length,
    }),
    (a, b) => a.cue === b.cue && a.event === b.event && a.kept === b.kept && a.taken === b.taken,
  );
  if (!rig) return null;
  return (
    <li>
      <strong>{rig.name}</strong>{" "}
      {at.cue ? `${at.cue.title.text} ${at.cue.count ? "" : at.cue.words.text}` : ""}
      {frames.length > 0 && (
        <span className="num quiet">
          {" "}
          <Phrase of={terms.keptOfTakenSubsKept} with={{ kept: at.kept, taken: at.taken }} />
        </span>
      )}
      {at.cue?.count ? (
        <Button size="small" type="text" onClick={() => at.cue && skip(at.cue.key)}>
          <Phrase of={terms.skipCue} with={{ cue: at.cue.name }} />
        </Button>
      ) : null}
      {at.event && (
        <span className="now-event">
          {wall(state, at.event.at_s)} {at.event.what}: <strong>{at.event.does}</strong>
        </span>
      )}
    </li>
  );
}

export function Ended({ sessions }: { sessions: readonly SessionKept[] }) {
  return (
    <div className="ended" role="status" data-testid="ended">
      {sessions.length === 0 ? <p>{terms.itHadNotBegunNothingIs}</p> : null}
      {sessions.map((one) => (
        <p key={one.id}>{told(one.record)}</p>
      ))}
    </div>
  );
}
