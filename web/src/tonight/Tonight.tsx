/** Tonight: one or several rigs over one night, planned; what fits, what to mind, what hands do. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { SessionKept, TonightPlan } from "../api/types";
import { useChosenNight } from "../app/night";
import { ofData, parsed } from "../kept/keeping";
import { QuantityInput } from "../kit/QuantityInput";
import { Says } from "../kit/Says";
import { saveFile } from "../kit/saveFile";
import { NightLists } from "../running/NightLists";
import { type Pinned, TimeLine } from "../running/TimeLine";
import { useNight } from "../running/useNight";
import { terms as common } from "../terms/common";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/tonight";
import { Ahead } from "./Ahead";
import { Hands } from "./Hands";
import { OnPhone } from "./OnPhone";
import { Ended, Playing } from "./Playing";
import { Rehearse } from "./Rehearse";
import { Suits } from "./Suits";
import "./tonight.module.css";

const KEY = "tonight";
const FORMS = {
  calendar: { path: "/api/v1/tonight/calendar", ends: "ics" },
  sheet: { path: "/api/v1/tonight/sheet.pdf", ends: "pdf" },
  run: { path: "/api/v1/tonight/run-file", ends: "run.json" },
} as const;

interface Kept {
  rigs: string[];
  from: number | null;
  until: number | null;
}

function keptOf(): Kept {
  const kept = parsed<Kept>(ofData().read(KEY));
  return kept && Array.isArray(kept.rigs) ? kept : { rigs: [], from: null, until: null };
}

export default function Tonight() {
  const [kept, setKept] = useState(keptOf);
  const [box] = useState(ofData);
  const [pins, setPins] = useState<Record<string, Record<string, number>>>({});
  const { night, choose } = useChosenNight();
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  useEffect(() => box.write(KEY, JSON.stringify(kept)), [box, kept]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was put by hand belongs to one night
  useEffect(() => setPins({}), [night]);
  const there = rigs.data ?? [];
  const chosen = kept.rigs.filter((id) => there.some((one) => one.id === id));
  const asked = chosen.length > 0 ? chosen : there.slice(0, 1).map((one) => one.id);
  const plan = useQuery({
    queryKey: ["tonight", asked, night, kept.from, kept.until, pins],
    enabled: asked.length > 0,
    placeholderData: keepPreviousData,
    queryFn: () =>
      dataAs<TonightPlan>(
        api.POST("/api/v1/tonight", {
          body: { rigs: asked, night, free_from_h: kept.from, free_until_h: kept.until, pins },
        }),
      ),
  });
  const pin = ({ rig, target, slot }: Pinned) =>
    setPins((now) => ({ ...now, [rig]: { ...(now[rig] ?? {}), [target]: slot } }));
  const shown = plan.data;
  const [looking, setLooking] = useState(false);
  const [suiting, setSuiting] = useState(false);
  const [fault, setFault] = useState("");
  const [phone, setPhone] = useState(false);
  const [ended, setEnded] = useState<readonly SessionKept[] | null>(null);
  const running = useNight();
  const runs = running.state?.running ? running.state : null;
  const body = { rigs: asked, night, free_from_h: kept.from, free_until_h: kept.until, pins };
  const act = (doing: Promise<unknown>) =>
    void doing.then(() => setFault("")).catch((error: unknown) => setFault(words(error)));
  async function save(form: keyof typeof FORMS) {
    const answer = await api.POST(FORMS[form].path, { body, parseAs: "blob" });
    if (!(answer.data instanceof Blob)) throw new Error(terms.theFileCouldNotBeMade);
    saveFile(answer.data, `${shown?.day ?? "tonight"}.${FORMS[form].ends}`);
  }
  const begin = (rehearsal: unknown) => {
    setEnded(null);
    act(running.begin(body, rehearsal));
  };
  if (runs)
    return (
      <main className="board tonight">
        <div className="board-head">
          <h1>{common.tonight2}</h1>
          <p className="quiet">
            {runs.plan?.site}: {runs.plan?.words?.text && <Says text={runs.plan?.words} />}
          </p>
          <Button onClick={() => setPhone(true)}>{terms.onAPhone}</Button>
        </div>
        {phone && <OnPhone close={() => setPhone(false)} />}
        <Playing running={running} state={runs} ended={setEnded} />
      </main>
    );
  return (
    <main className="board tonight">
      <div className="board-head">
        <h1>{common.tonight2}</h1>
        {shown && (
          <p className="quiet">
            {shown.site}: <Says text={shown.words} />
          </p>
        )}
      </div>
      <div className="tonight-choice">
        <label>
          {common.rigs}
          <Select
            mode="multiple"
            maxCount={4}
            aria-label={terms.rigsOfTheNight}
            value={asked}
            options={there.map((one) => ({ value: one.id, label: one.name }))}
            onChange={(next: string[]) => {
              setPins({});
              setKept({ ...kept, rigs: next });
            }}
          />
        </label>
        <QuantityInput
          label={terms.freeFromOnTheClock}
          unit="h"
          low={0}
          high={24}
          value={kept.from}
          onChange={(from, valid) => valid && setKept({ ...kept, from })}
        />
        <QuantityInput
          label={terms.freeUntilOnTheClock}
          unit="h"
          low={0}
          high={24}
          value={kept.until}
          onChange={(until, valid) => valid && setKept({ ...kept, until })}
        />
        {shown && (
          <div className="tonight-buttons">
            <Button onClick={() => act(save("sheet"))}>{terms.runSheetPdf}</Button>
            <Button onClick={() => act(save("run"))}>{terms.runFile}</Button>
            <Button onClick={() => act(save("calendar"))}>{terms.calendar}</Button>
            <Button onClick={() => setPhone(true)}>{terms.onAPhone}</Button>
            <Rehearse begin={begin} />
            <Button type="primary" onClick={() => begin(null)}>
              {terms.beginTheNight}
            </Button>
          </div>
        )}
        {Object.keys(pins).length > 0 && <Button onClick={() => setPins({})}>{common.planAllAnew}</Button>}
      </div>
      {phone && <OnPhone close={() => setPhone(false)} />}
      {ended && <Ended sessions={ended} />}
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {plan.error && (
        <p className="fault" role="alert">
          {words(plan.error)}
        </p>
      )}
      {shown && (
        <>
          <TimeLine plan={shown} pin={pin} />
          <NightLists plan={shown} choose={choose} />
          <details className="tonight-ahead" onToggle={(event) => setLooking(event.currentTarget.open)}>
            <summary>{terms.theFortnightAhead}</summary>
            {looking && <Ahead rigs={asked} night={night} choose={choose} />}
          </details>
          <details className="tonight-ahead" onToggle={(event) => setSuiting(event.currentTarget.open)}>
            <summary>{terms.whichRigForWhichTarget}</summary>
            {suiting && <Suits night={night} />}
          </details>
          <Hands rigs={asked} />
          <p className="quiet">
            <Phrase
              of={terms.nightsRunRehearsedOrTypedStand}
              with={{ link: <Link to="/log">{common.log}</Link> }}
            />
          </p>
        </>
      )}
    </main>
  );
}
