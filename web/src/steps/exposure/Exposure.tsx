/** The Exposure step: how long a sub is worth, what fills a pixel, how many hours the wish takes, through which filter. */
import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useCallback, useRef, useState } from "react";
import { Link } from "react-router";
import { api, data, dataAs } from "../../api/client";
import type { Exposure, ExposureView, Framing, Rig } from "../../api/types";
import { NumberField } from "../../kit/NumberField";
import { Says } from "../../kit/Says";
import { keyOf, TargetTabs } from "../../kit/TargetTabs";
import { SiteOfRig } from "../../rig/SiteOfRig";
import { useDrawn } from "../../rig/useDrawn";
import { terms } from "../../terms/exposure";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { Beside } from "./Beside";
import { FilterBars } from "./FilterBars";
import { HoursCurve } from "./HoursCurve";
import { NoiseCurve, type SubChange } from "./NoiseCurve";
import { PixelWell } from "./PixelWell";
import { Plan } from "./Plan";
import "./exposure.module.css";

const PAUSE_MS = 90;
const SCHOOLS = [
  { value: "swamp_read_noise", label: terms.swampTheReadNoise },
  { value: "fixed_habit", label: terms.fixedHabit },
] as const;

export default function ExposureStep({ rigId, rig, commit, preview, target, setTarget }: StepProps) {
  const [others, setOthers] = useState<string[]>([]);
  const { view, fault, ask } = useDrawn(
    rig,
    (given) =>
      dataAs<ExposureView>(api.POST("/api/v1/exposure", { body: { rig: given, target, beside: others } })),
    `${target ?? ""} ${others.join(" ")}`,
  );
  const kept = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const pause = useRef(0);
  const drawn = (change: SubChange) => {
    const draft = withSub(rig, change);
    void ask(draft);
    window.clearTimeout(pause.current);
    pause.current = window.setTimeout(() => preview(draft), PAUSE_MS);
  };
  const settle = useCallback(
    (change: SubChange, note: string) => {
      window.clearTimeout(pause.current);
      preview(null);
      commit((now) => withSub(now, change), note);
    },
    [preview, commit],
  );
  const giveUp = () => {
    window.clearTimeout(pause.current);
    preview(null);
    void ask(rig);
  };
  const framings = rig.framings ?? [];
  const index = view?.target ?? null;
  const framing = index === null ? undefined : framings[index];
  const change = (by: (framing: Framing) => Framing, note: string) =>
    commit(
      (now) => ({ ...now, framings: (now.framings ?? []).map((one, i) => (i === index ? by(one) : one)) }),
      note,
    );
  return (
    <div className="expose">
      <TargetTabs
        targets={framings.map((one) => one.target).filter((one) => view?.targets.includes(keyOf(one)))}
        chosen={framing?.target}
        choose={setTarget}
      />
      {fault && <p className="fault">{fault}</p>}
      {view?.lacks?.text && (
        <p className="empty" data-testid="exposure-lacks">
          {phrase(terms.cannotBeToldYetLacks, { lacks: view.lacks.text })}
        </p>
      )}
      {view && framing && (
        <div className="expose-head">
          <NumberField
            of={view.of_lines ? "Target.line_rayleighs" : "Target.surface_brightness"}
            value={
              (view.of_lines ? framing.target.line_rayleighs : framing.target.surface_brightness) ?? null
            }
            onChange={(value) =>
              change(
                (one) => ({
                  ...one,
                  target: { ...one.target, [view.of_lines ? "line_rayleighs" : "surface_brightness"]: value },
                }),
                terms.brightnessSet,
              )
            }
          />
          <label>
            {terms.howLongASub}
            <Select
              aria-label={terms.howLongASub2}
              value={view.school}
              options={[...SCHOOLS]}
              onChange={(school) =>
                commit(
                  (now) => ({
                    ...now,
                    preferences: {
                      ...(now.preferences ?? {}),
                      sub_length: school as (typeof SCHOOLS)[number]["value"],
                    },
                  }),
                  terms.schoolOfTheSubChosen,
                )
              }
            />
          </label>
          <label>
            {terms.site}
            <SiteOfRig rig={rig} commit={commit} />
          </label>
          <label>
            {terms.holdBeside}
            <Select
              mode="multiple"
              maxCount={4}
              aria-label={terms.rigsHeldBeside}
              placeholder={terms.otherRigs}
              value={others}
              onChange={setOthers}
              options={(kept.data ?? [])
                .filter((one) => one.id !== rigId)
                .map((one) => ({ value: one.id, label: one.name }))}
            />
          </label>
          <p className="quiet">
            <Phrase
              of={terms.wishedSignalToNoiseWishedLink}
              with={{
                wished: view.wished,
                link: <Link to="/preferences">{terms.preferences}</Link>,
                glow_words: <Says text={view.glow_words} />,
                glow_origin: <Says text={view.glow_origin} />,
                conditions: view.conditions.text && (
                  <>
                    {", "}
                    <Says text={view.conditions} />
                  </>
                ),
              }}
            />
          </p>
          {view.light_words.text && (
            <p data-testid="light-words">
              <Says text={view.light_words} />.
            </p>
          )}
        </div>
      )}
      {view && (
        <>
          <div className="expose-pictures">
            {view.sub && (
              <div className="instrument">
                <h2>{terms.noiseOverTheLengthOfA}</h2>
                <NoiseCurve sub={view.sub} preview={drawn} settle={settle} giveUp={giveUp} />
              </div>
            )}
            {view.well && view.sub && (
              <div className="instrument">
                <h2>
                  <Phrase of={terms.onePixelOverSubSS} with={{ sub_s: view.sub.sub_s }} />
                </h2>
                <PixelWell well={view.well} sub={view.sub.sub_s} />
              </div>
            )}
            {view.curves.length > 0 && (
              <div className="instrument">
                <h2>{terms.signalToNoiseOverHoursOf}</h2>
                <HoursCurve view={view} />
              </div>
            )}
            {view.filters.length > 0 && (
              <div className="instrument">
                <h2>{terms.filtersOverTheLight}</h2>
                <FilterBars
                  view={view}
                  take={(one) =>
                    commit(
                      (now) => turnedTo(now, one.key ?? null),
                      phrase(terms.nameInTheLight, { name: one.name }),
                    )
                  }
                />
              </div>
            )}
          </div>
          {framing && (
            <>
              <h2>
                <Phrase of={terms.planForTarget} with={{ target: framing.target.name }} />
              </h2>
              <Plan
                key={keyOf(framing.target)}
                rig={rig}
                view={view}
                plan={framing.plan ?? []}
                set={(plan: Exposure[], note) => change((one) => ({ ...one, plan }), note)}
              />
            </>
          )}
          <Beside rig={rig} view={view} commit={commit} />
        </>
      )}
    </div>
  );
}

const withSub = (rig: Rig, { sub }: SubChange): Rig => ({
  ...rig,
  guide: { ...(rig.guide ?? {}), sub_s: sub },
});

/** The rig with one of the filters it carries in the light, or none. */
function turnedTo(rig: Rig, key: string | null): Rig {
  return {
    ...rig,
    path: (rig.path ?? []).map((item) => {
      const at = (item.filters ?? []).findIndex((one) => (one.id ?? one.name) === key);
      return (item.filters ?? []).length === 0 ? item : { ...item, in_use: at < 0 ? null : at };
    }),
  };
}
