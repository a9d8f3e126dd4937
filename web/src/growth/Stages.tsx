/** Growing in stages: each a rig, with what carries over, what it costs and what it newly makes possible. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, askAgain, data, dataAs, words } from "../api/client";
import type { Growth, RigKept, StageView } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { useQueuedEdits } from "../api/useQueuedEdits";
import { Num } from "../kit/Calculated";
import { KeptTabs } from "../kit/KeptTabs";
import { Mark } from "../kit/Mark";
import { Says } from "../kit/Says";
import { counted } from "../kit/words";
import { terms } from "../terms/growth";
import { Phrase, phrase } from "../terms/phrase";
import { moneyWords } from "./money";
import "./growth.module.css";

export default function Stages() {
  const putAway = usePutAway();
  const client = useQueryClient();
  const growths = useQuery({ queryKey: ["growths"], queryFn: () => data(api.GET("/api/v1/growths")) });
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const [chosen, setChosen] = useState<string | null>(null);
  const [fault, setFault] = useState("");
  const kept = growths.data?.find((one) => one.id === chosen) ?? growths.data?.[0];
  const edit = useQueuedEdits<Growth>(
    "growths",
    (id, base, body) =>
      data(
        api.PUT("/api/v1/growths/{entry_id}", { params: { path: { entry_id: id } }, body: { base, body } }),
      ),
    (error) => setFault(error === null ? "" : words(error)),
  );
  const stages = kept?.body.stages ?? [];
  const views = useQuery({
    queryKey: ["stages", kept?.id, kept?.version, stages, rigs.data?.map((rig) => rig.revision)],
    queryFn: () =>
      data(api.POST("/api/v1/growth", { body: { growth: kept?.body as Growth } })) as Promise<StageView[]>,
    enabled: kept !== undefined,
    placeholderData: (before) => before,
  });
  const change = (next: Growth["stages"]) => kept && edit(kept.id, { stages: next });

  async function add() {
    try {
      const made = await data(
        api.POST("/api/v1/growths", { body: { name: terms.newPath, stages: [], notes: "" } }),
      );
      await askAgain(client, "growths");
      setChosen(made.id);
    } catch (error) {
      setFault(words(error));
    }
  }

  async function addStage(id: string) {
    try {
      const { rig } = await dataAs<RigKept>(
        api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: id } } }),
      );
      change([...stages, { title: rig.summary || rig.name, rig: id }]);
    } catch (error) {
      setFault(words(error));
    }
  }

  async function takeAway() {
    if (!kept) return;
    const path = { params: { path: { entry_id: kept.id } } };
    await putAway({
      key: `growth-${kept.id}`,
      name: kept.body.name,
      remove: () => data(api.DELETE("/api/v1/growths/{entry_id}", path)),
      restore: () => data(api.POST("/api/v1/growths/{entry_id}/restore", path)),
      refresh: () => askAgain(client, "growths"),
    });
  }

  return (
    <main className="stages">
      <div className="board-head">
        <h1>{terms.stages}</h1>
        <KeptTabs label={terms.pathsOfGrowth} entries={growths.data} chosen={kept?.id} choose={setChosen} />
        <div className="actions">
          {kept && <Button onClick={() => void takeAway()}>{terms.putThisPathAway}</Button>}
          <Button onClick={() => void add()}>{terms.addAPath}</Button>
        </div>
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {growths.data?.length === 0 && <p className="empty">{terms.noPathYetAddOneAnd}</p>}
      {kept && (
        <>
          <Input
            key={kept.id + kept.body.name}
            className="path-name"
            aria-label={terms.nameOfThePath}
            defaultValue={kept.body.name}
            maxLength={120}
            onBlur={(event) => {
              const name = event.target.value.trim();
              if (name && name !== kept.body.name) edit(kept.id, { name });
            }}
          />
          <ol data-testid="stage-cards" className="stage-cards">
            {stages.map((stage, i) => (
              <li key={`${stage.rig}-${i}`}>
                <header>
                  <span className="stage-number">{i + 1}</span>
                  <Input
                    key={stage.title}
                    aria-label={phrase(terms.titleOfStageI, { i: i + 1 })}
                    defaultValue={stage.title}
                    maxLength={120}
                    onBlur={(event) => {
                      const title = event.target.value.trim();
                      if (title && title !== stage.title)
                        change(stages.map((one, k) => (k === i ? { ...one, title } : one)));
                    }}
                  />
                  <span className="stage-tools">
                    <button
                      type="button"
                      className="plain-button"
                      disabled={i === 0}
                      aria-label={phrase(terms.stageIEarlier, { i: i + 1 })}
                      onClick={() => {
                        const next = [...stages];
                        const [taken] = next.splice(i, 1);
                        if (taken) next.splice(i - 1, 0, taken);
                        change(next);
                      }}
                    >
                      ←
                    </button>
                    <button
                      type="button"
                      className="plain-button"
                      aria-label={phrase(terms.takeStageIOut, { i: i + 1 })}
                      onClick={() => change(stages.filter((_, k) => k !== i))}
                    >
                      ×
                    </button>
                  </span>
                </header>
                {views.data?.[i] && <Stage view={views.data[i]} rigId={stage.rig} first={i === 0} />}
              </li>
            ))}
            <li className="add-stage">
              <Select
                aria-label={terms.addAStage}
                placeholder={terms.addAStageWhichRig}
                style={{ width: "100%" }}
                value={null}
                options={(rigs.data ?? []).map((rig) => ({ value: rig.id, label: rig.name }))}
                onChange={(id: string | null) => id && void addStage(id)}
              />
            </li>
          </ol>
          {views.error && <p className="fault">{words(views.error)}</p>}
        </>
      )}
    </main>
  );
}

function Stage({ view, rigId, first }: { view: StageView; rigId: string; first: boolean }) {
  return (
    <div data-testid="stage-card" className="stage-card">
      <p>
        <Link to={`/rigs/${rigId}/optics`}>
          <Mark verdict={view.verdict} size={13} /> {view.rig}
        </Link>{" "}
        <span className="quiet">
          {view.problems > 0 ? counted(view.problems, "problem") : terms.aValidRig}
        </span>
      </p>
      <dl>
        <div>
          <dt>{first ? terms.costs : terms.costsMore}</dt>
          <dd className="num">
            <Num of="StageView.cost">{moneyWords(view.cost)}</Num>
          </dd>
        </div>
        <div>
          <dt>{terms.soFar}</dt>
          <dd className="num">
            <Num of="StageView.total">{moneyWords(view.total)}</Num>
          </dd>
        </div>
        <div>
          <dt>{terms.carriesOver}</dt>
          <dd className="num">{first ? "—" : counted(view.kept, "part") || terms.nothing}</dd>
        </div>
      </dl>
      {view.unpriced > 0 && (
        <p className="quiet">
          <Phrase
            of={terms.unpricedWithoutAPriceTheSums}
            with={{ unpriced: counted(view.unpriced, terms.newPart) }}
          />
        </p>
      )}
      {view.makes_possible.length > 0 && (
        <>
          <h3>{terms.newlyPossible}</h3>
          <ul>
            {view.makes_possible.map((line) => (
              <li key={line.text}>
                <Says text={line} />
              </li>
            ))}
          </ul>
        </>
      )}
      {view.warnings.length > 0 && (
        <details>
          <summary>
            <Mark verdict="warning" size={12} /> {counted(view.warnings.length, "warning")}
          </summary>
          <ul>
            {view.warnings.map((line) => (
              <li key={line.text}>
                <Says text={line} />
              </li>
            ))}
          </ul>
        </details>
      )}
      <details>
        <summary>{counted(view.new.length, terms.newPart) || terms.nothingNew}</summary>
        <p className="quiet">{view.new.join(", ")}</p>
      </details>
    </div>
  );
}
