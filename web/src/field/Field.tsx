/** The night on a phone: now, next, minutes left, three large buttons; cards, marks and hop card. It works on without a connection. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, data } from "../api/client";
import type { NightState } from "../api/types";
import { useAccess } from "../app/Gate";
import { KeptNotices } from "../kept/KeptNotices";
import { SetAside } from "../kept/SetAside";
import { Says } from "../kit/Says";
import { useClock, useShown, wall } from "../running/clock";
import { markNamed, type RunningNight, useNight } from "../running/useNight";
import { terms as common } from "../terms/common";
import { terms } from "../terms/field";
import { phrase } from "../terms/phrase";
import { useTheme } from "../theme/ThemeProvider";
import { FieldCards } from "./FieldCards";
import { FieldHop } from "./FieldHop";
import { FieldMarks } from "./FieldMarks";
import { Ring } from "./Ring";
import { useFieldRig } from "./useFieldRig";
import "./field.module.css";

type View = "now" | "cards" | "marks" | "hop";
const VIEWS: readonly [View, string][] = [
  ["cards", terms.cards],
  ["marks", terms.marks2],
  ["hop", common.hopCard],
];

export default function Field() {
  const running = useNight({ keen: true });
  const { name, set } = useTheme();
  const { state: access, signOut } = useAccess();
  // In the field it is dark: red at once, and as it was before when one leaves.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, as the page opens
  useEffect(() => {
    const before = name;
    set("red");
    return () => set(before);
  }, []);
  const state = running.state?.running ? running.state : null;
  const rigs = useQuery({
    queryKey: ["rigs"],
    queryFn: () => data(api.GET("/api/v1/rigs")),
    staleTime: 60_000,
  });
  const there = state
    ? (state.rigs ?? []).map((rig) => ({ id: rig.rig_id, name: rig.name }))
    : (rigs.data ?? []).map((rig) => ({ id: rig.id, name: rig.name }));
  const [chosen, setChosen] = useState("");
  const [view, setView] = useState<View>("now");
  const rig = there.find((one) => one.id === chosen) ?? there[0];
  const unsaved = running.refusals.aside.length;
  return (
    <main className="field-view">
      <KeptNotices />
      <header className="field-head">
        <select
          aria-label={common.rig2}
          value={rig?.id ?? ""}
          onChange={(event) => setChosen(event.target.value)}
        >
          {there.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
        <p className="num" data-testid="field-connection">
          {state && <Time state={state} />}
          {running.connected ? terms.connected : terms.noConnection}
        </p>
      </header>
      {rig && (
        <Shown key={rig.id} rigId={rig.id} view={view} open={setView} running={running} state={state} />
      )}
      <p className="field-foot" data-testid="field-kept" data-waiting={running.waiting.length}>
        {running.waiting.length > 0
          ? phrase(terms.keptOnThisPhoneWaitingWhich, {
              waiting: running.waiting.length,
              which: running.waiting.length === 1 ? terms.mark : terms.marks,
            })
          : unsaved > 0
            ? phrase(terms.unsavedWhichNotSaved, { unsaved, which: unsaved === 1 ? terms.mark : terms.marks })
            : terms.allMarksDelivered}
      </p>
      {running.fault && <p className="field-foot">{running.fault}</p>}
      <SetAside refusals={running.refusals} named={markNamed} />
      {state?.conflicts?.map((one) => (
        <p key={one.text} className="field-foot">
          <Says text={one} />
        </p>
      ))}
      <p className="field-foot">
        <Link to="/tonight">{terms.theWholeOfDravel}</Link>
        {access?.needed && (
          <button type="button" className="field-small" onClick={() => void signOut()}>
            {terms.signOut}
          </button>
        )}
      </p>
    </main>
  );
}

function Time({ state }: { state: NightState }) {
  const time = useShown(useClock(state), (at) => wall(state, at));
  return (
    <>
      {time}
      {state.rehearsal ? terms.rehearsal : ""} ·{" "}
    </>
  );
}

interface Props {
  rigId: string;
  view: View;
  open: (view: View) => void;
  running: RunningNight;
  state: NightState | null;
}

function Shown({ rigId, view, open, running, state }: Props) {
  const held = useFieldRig(rigId);
  const back = () => open("now");
  if (view === "cards") return <FieldCards rigId={rigId} build={held.build} back={back} />;
  if (view === "marks") return <FieldMarks held={held} back={back} />;
  if (view === "hop") return <FieldHop held={held} back={back} />;
  return (
    <>
      {state ? (
        <Now rigId={rigId} running={running} state={state} />
      ) : (
        <section className="field-now">
          <h1>{terms.noNightIsRunning}</h1>
          <p>{terms.beginItOrRehearseItFrom}</p>
        </section>
      )}
      <nav className="field-views" aria-label={terms.moreOfThisRig}>
        {VIEWS.map(([one, title]) => (
          <button key={one} type="button" onClick={() => open(one)}>
            {title}
          </button>
        ))}
      </nav>
    </>
  );
}

function Now({ rigId, running, state }: { rigId: string; running: RunningNight; state: NightState }) {
  const clock = useClock(state);
  const rig = state.rigs?.find((one) => one.rig_id === rigId);
  const waiting = running.waiting.filter((one) => one.night === state.id);
  // What was marked here counts here at once, delivered or not.
  const done = new Set([
    ...(rig?.done ?? []),
    ...waiting.filter((one) => one.kind !== "clouds" && one.kind !== "clear").map((one) => one.step ?? ""),
  ]);
  const sky = waiting.filter((one) => one.kind === "clouds" || one.kind === "clear").at(-1);
  const cloudy = sky ? sky.kind === "clouds" : Boolean(state.cloud_since);
  const shown = useShown(
    clock,
    (now) => {
      const cues = rig?.cues ?? [];
      const cue = cues.find((one) => one.start_s <= now && now < one.end_s && !done.has(one.key || "-"));
      const next = cue ?? cues.find((one) => one.start_s > now && !done.has(one.key || "-"));
      const long = next ? next.end_s - next.start_s : 1;
      return {
        cue: next,
        ahead: !cue,
        minutes: next ? Math.max(0, Math.ceil(((cue ? next.end_s : next.start_s) - now) / 60)) : 0,
        share: cue ? Math.round(((now - cue.start_s) / long) * 200) / 200 : 0,
        subs: cue?.count ? Math.min(cue.count, Math.floor((now - cue.start_s) / cue.each_s)) : 0,
      };
    },
    (a, b) =>
      a.cue === b.cue &&
      a.ahead === b.ahead &&
      a.minutes === b.minutes &&
      a.share === b.share &&
      a.subs === b.subs,
  );
  const { cue } = shown;
  if (!rig || !cue) return null;
  return (
    <section className="field-now" data-testid="field-now">
      <h1>
        <Says text={cue.title} />
      </h1>
      <p>
        {cue.count ? `${shown.subs} ` : ""}
        <Says text={cue.words} />
        {cloudy
          ? phrase(terms.cloudsCloudSince, {
              cloud_since: state.cloud_since
                ? phrase(terms.sinceCloudSince, { cloud_since: state.cloud_since })
                : "",
            })
          : ""}
      </p>
      <div className="field-ring">
        <Ring
          share={shown.share}
          minutes={shown.minutes}
          words={shown.ahead ? terms.minToGo : terms.minLeft}
        />
        <ul className="plain-list">
          {cue.then.map((one) => (
            <li key={one.text}>
              <strong>
                <Says text={one} />
              </strong>
            </li>
          ))}
          {(rig.mind ?? []).slice(0, 4).map((one) => (
            <li key={one.text}>
              <Says text={one} />
            </li>
          ))}
        </ul>
      </div>
      <div className="field-buttons">
        <button
          type="button"
          className="field-main"
          disabled={!cue.key}
          onClick={() => running.mark("done", rigId, cue.key)}
        >
          {common.done}
        </button>
        <button type="button" onClick={() => running.mark(cloudy ? "clear" : "clouds", "", "")}>
          {cloudy ? terms.clearAgain : common.clouds}
        </button>
        <button type="button" disabled={!cue.count} onClick={() => running.mark("skip", rigId, cue.key)}>
          {terms.skipToTheNext}
        </button>
      </div>
    </section>
  );
}
