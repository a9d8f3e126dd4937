/** What a night is good for: the catalogue ranked for a rig and a site, each score explained. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { api, askAgain, data, dataAs, words } from "../api/client";
import type { RankingAnswer, RigKept, SiteKept, Target, TargetKind, Worth } from "../api/types";
import { useChosenNight } from "../app/night";
import { Num } from "../kit/Calculated";
import { fixed, hoursWords } from "../kit/quantity";
import { Says } from "../kit/Says";
import { WorthTerms } from "../kit/WorthTerms";
import { dayWords, inWords, kindWords } from "../kit/words";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/sky";
import { KINDS } from "./kinds";

const MOST_RIGS = 8;

export function TonightList({ site }: { site: SiteKept }) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const [rigIds, setRigIds] = useState<string[]>([]);
  const [kinds, setKinds] = useState<TargetKind[]>([]);
  const { night } = useChosenNight();
  const [beginner, setBeginner] = useState(false);
  const [open, setOpen] = useState<string | null>(null);
  const taken = rigIds.filter((id) => rigs.data?.some((one) => one.id === id));
  const listed = rigs.data?.find((one) => one.id === taken[0]) ?? rigs.data?.[0];
  const beside = taken.slice(1);
  const kept = useQuery({
    queryKey: [terms.rigDocument, listed?.id, listed?.revision],
    queryFn: () =>
      dataAs<RigKept>(api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: listed?.id ?? "" } } })),
    enabled: listed !== undefined,
    placeholderData: (before) => before,
  });
  const rig = kept.data;
  const answer = useQuery({
    queryKey: ["tonight", site.id, site.version, rig?.id, rig?.revision, beside, kinds, night, beginner],
    queryFn: ({ signal }) =>
      dataAs<RankingAnswer>(
        api.POST("/api/v1/sky/ranking", {
          body: { rig: (rig as RigKept).rig, beside, kinds, site: site.id, beginner, listed: false },
          signal,
        }),
      ),
    enabled: rig !== undefined,
    placeholderData: (before) => before,
  });

  async function addToBoard(target: Target) {
    try {
      await data(api.POST("/api/v1/targets", { body: target }));
      await askAgain(client, "board");
      notification.success({ message: phrase(terms.targetIsOnTheBoard, { target: target.name }) });
    } catch (error) {
      notification.error({ message: terms.notAdded, description: words(error) });
    }
  }

  return (
    <section className="tonight" aria-label={terms.whatTheNightIsGoodFor}>
      <div data-testid="sky-tools" className="sky-tools">
        <h2>{terms.whatTheNightIsGoodFor}</h2>
        <Select
          mode="multiple"
          size="small"
          aria-label={terms.rigs}
          placeholder={terms.chooseARig}
          value={taken.length > 0 ? taken : listed ? [listed.id] : []}
          className="tonight-rigs"
          options={(rigs.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={(ids: string[]) => setRigIds(ids.slice(0, MOST_RIGS))}
        />
        <Select
          mode="multiple"
          size="small"
          aria-label={terms.kindsForTheNight}
          placeholder={common.everyKind}
          className="tonight-kinds"
          maxTagCount={1}
          value={kinds}
          options={KINDS.map((value) => ({ value, label: kindWords(value) }))}
          onChange={setKinds}
        />
        <Checkbox checked={beginner} onChange={(event) => setBeginner(event.target.checked)}>
          {terms.brightLargeAndHighOnly}
        </Checkbox>
      </div>
      {answer.data?.facts && (
        <p className="quiet">
          {dayWords(answer.data.facts.day)}: <Says text={answer.data.facts.words} />
        </p>
      )}
      {rigs.data?.length === 0 && <p className="empty">{terms.makeARigFirstWhatA}</p>}
      {answer.data?.because?.text && (
        <p className="empty">
          <Phrase of={terms.nothingToRankBecause} with={{ because: <Says text={answer.data.because} /> }} />
        </p>
      )}
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {(answer.data?.best?.length ?? 0) > 0 && (
        <p className="worth-head quiet" aria-hidden="true">
          <span>{terms.usable}</span>
          <span>{terms.highest}</span>
          <span>{common.score}</span>
        </p>
      )}
      <ol className="worth-list">
        {answer.data?.best?.map((worth) => (
          <li key={worth.target.id ?? worth.target.name}>
            <button
              type="button"
              data-testid="worth-line"
              className="worth-line"
              aria-expanded={open === worth.target.id}
              onClick={() => setOpen(open === worth.target.id ? null : (worth.target.id ?? null))}
            >
              <span className="worth-bar" style={{ width: `${worth.score}%` }} />
              <strong>{worth.target.name}</strong>
              <span className="quiet">
                {worth.rig && <strong>{worth.rig} </strong>}
                <span data-figure="Target.major_arcmin">{inWords(worth.target)}</span>
              </span>
              <span className="num">
                <Num of="Worth.hours" still>
                  {hoursWords(worth.hours)}
                </Num>
              </span>
              <span className="num">
                <Num of="Worth.best_altitude_deg" still>
                  {fixed(worth.best_altitude_deg, 0)}
                </Num>
                °
              </span>
              <span className="num score">
                <Num of="Worth.score" still>
                  {fixed(worth.score, 0)}
                </Num>
              </span>
            </button>
            {open === worth.target.id && <Terms worth={worth} onAdd={() => void addToBoard(worth.target)} />}
          </li>
        ))}
      </ol>
      {answer.data?.best?.length === 0 && !answer.data.because.text && (
        <p className="quiet">{terms.nothingStandsHighInDarknessOn}</p>
      )}
    </section>
  );
}

function Terms({ worth, onAdd }: { worth: Worth; onAdd: () => void }) {
  return (
    <div data-testid="worth-terms" className="worth-terms">
      <WorthTerms worth={worth} />
      <Button size="small" onClick={onAdd}>
        {terms.putItOnTheBoard}
      </Button>
    </div>
  );
}
