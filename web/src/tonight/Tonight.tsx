/** Tonight: one or several rigs over one night, planned; what fits, what to mind, what hands do. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useEffect, useState } from "react";
import { api, data, dataAs, words } from "../api/client";
import type { TonightPlan } from "../api/types";
import { useChosenNight } from "../app/night";
import { Mark } from "../kit/Mark";
import { QuantityInput } from "../kit/QuantityInput";
import { Ahead } from "./Ahead";
import { type Pinned, TimeLine } from "./TimeLine";
import "./tonight.module.css";

const KEY = "dravel.tonight";

interface Kept {
  rigs: string[];
  from: number | null;
  until: number | null;
}

function keptOf(): Kept {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "null") as Kept | null;
    return kept && Array.isArray(kept.rigs) ? kept : { rigs: [], from: null, until: null };
  } catch {
    return { rigs: [], from: null, until: null };
  }
}

export default function Tonight() {
  const [kept, setKept] = useState(keptOf);
  const [pins, setPins] = useState<Record<string, Record<string, number>>>({});
  const { night, choose } = useChosenNight();
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  useEffect(() => localStorage.setItem(KEY, JSON.stringify(kept)), [kept]);
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
  const [fault, setFault] = useState("");
  async function save() {
    const answer = await api.POST("/api/v1/tonight/calendar", {
      body: { rigs: asked, night, free_from_h: kept.from, free_until_h: kept.until, pins },
      parseAs: "blob",
    });
    if (!(answer.data instanceof Blob)) throw new Error("The calendar could not be made.");
    const link = document.createElement("a");
    link.href = URL.createObjectURL(answer.data);
    link.download = `${shown?.day ?? "tonight"}.ics`;
    link.click();
    URL.revokeObjectURL(link.href);
  }
  return (
    <main className="board tonight">
      <div className="board-head">
        <h1>Tonight</h1>
        {shown && (
          <p className="quiet">
            {shown.site}: {shown.words}
          </p>
        )}
      </div>
      <div className="tonight-choice">
        <label>
          rigs
          <Select
            mode="multiple"
            maxCount={4}
            aria-label="Rigs of the night"
            value={asked}
            options={there.map((one) => ({ value: one.id, label: one.name }))}
            onChange={(next: string[]) => {
              setPins({});
              setKept({ ...kept, rigs: next });
            }}
          />
        </label>
        <QuantityInput
          label="Free from, on the clock"
          unit="h"
          low={0}
          high={24}
          value={kept.from}
          onChange={(from, valid) => valid && setKept({ ...kept, from })}
        />
        <QuantityInput
          label="Free until, on the clock"
          unit="h"
          low={0}
          high={24}
          value={kept.until}
          onChange={(until, valid) => valid && setKept({ ...kept, until })}
        />
        {shown && (
          <Button onClick={() => void save().catch((error: unknown) => setFault(words(error)))}>
            Calendar
          </Button>
        )}
        {Object.keys(pins).length > 0 && <Button onClick={() => setPins({})}>Plan all anew</Button>}
      </div>
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
          <div className="tonight-foot">
            <section>
              <h2>What fits</h2>
              <ul data-testid="fits" className="plain-list">
                {shown.rigs.flatMap((rig) =>
                  rig.fits.map((line) => (
                    <li key={`${rig.rig_id} ${line.words}`}>
                      <Mark verdict={line.verdict} size={12} /> {line.words}{" "}
                      {line.day && (
                        <Button size="small" type="link" onClick={() => choose(line.day ?? null)}>
                          Go to that night
                        </Button>
                      )}
                    </li>
                  )),
                )}
              </ul>
            </section>
            <section>
              <h2>Mind</h2>
              <ul data-testid="mind" className="plain-list">
                {shown.rigs.flatMap((rig) =>
                  rig.mind.map((line) => (
                    <li key={`${rig.rig_id} ${line.words}`}>
                      <Mark verdict={line.verdict} size={12} /> {line.words}
                    </li>
                  )),
                )}
              </ul>
            </section>
            <section>
              <h2>What hands do</h2>
              <ul data-testid="hands" className="plain-list">
                {shown.jobs.map((job) => (
                  <li key={`${job.slot} ${job.what}`}>
                    <span className="num">{job.time}</span> {job.what}
                  </li>
                ))}
              </ul>
            </section>
          </div>
          <details className="tonight-ahead" onToggle={(event) => setLooking(event.currentTarget.open)}>
            <summary>The fortnight ahead</summary>
            {looking && <Ahead rigs={asked} night={night} choose={choose} />}
          </details>
        </>
      )}
    </main>
  );
}
