/** The fields of a night: when, how it was, subs, losses, people, notes, marks. */
import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import type { ReactNode } from "react";
import { api, data } from "../api/client";
import type { SessionSubs } from "../api/types";
import { NightChoice } from "../app/NightChoice";
import { NumberField } from "../kit/NumberField";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { type Draft, filled, line, withSubs } from "./draft";
import { Losses } from "./Losses";
import { MarkFields } from "./MarkFields";
import { SubsLine } from "./SubsLine";

interface Props<D extends Draft> {
  draft: D;
  put: (draft: D) => void;
  /** Whether it is of one rig for good. */
  ofRig: boolean;
  children?: ReactNode;
}

/** What can be chosen on a night of a rig. */
export function useOfRig(asked: string | null) {
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const rigId = asked ?? rigs.data?.[0]?.id ?? null;
  const rig = useQuery({
    queryKey: ["rig", rigId],
    enabled: rigId !== null,
    queryFn: () => data(api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: rigId ?? "" } } })),
  }).data?.rig;
  const targets = (rig?.framings ?? []).map(({ target }) => ({
    value: target.id ?? target.name,
    label: target.name,
  }));
  const filters = [
    ...new Set((rig?.path ?? []).flatMap((item) => (item.filters ?? []).map((one) => one.name))),
  ];
  return { rigs: rigs.data ?? [], rigId, rig, targets, filters };
}

export function NightFields<D extends Draft>({ draft, put, ofRig, children }: Props<D>) {
  const { rigs, rigId, rig, targets, filters } = useOfRig(draft.rig);
  const set = (change: Partial<Draft>) => put({ ...draft, ...change });
  const subs = filled(draft.subs, targets[0], rig?.guide?.sub_s);
  const setSubs = (next: SessionSubs[]) => put(withSubs(draft, next));
  return (
    <>
      <div className="part-fields">
        <label className="stacked">
          {common.rig2}
          <Select
            aria-label={terms.rigOfTheNight}
            disabled={ofRig}
            value={rigId}
            options={
              ofRig && !rigs.some((one) => one.id === rigId)
                ? [{ value: rigId, label: common.putAway2 }]
                : rigs.map((one) => ({ value: one.id, label: one.name }))
            }
            onChange={(next: string | null) => set({ rig: next, subs: [line()] })}
          />
        </label>
        <div className="stacked">
          {common.eveningOf}
          <NightChoice
            label={common.eveningOf}
            small
            closes
            night={draft.night || null}
            choose={(_, night) => set({ night })}
          />
        </div>
        {children}
        <NumberField
          of="SessionConditions.temperature_c"
          value={draft.temperature}
          onChange={(temperature) => set({ temperature })}
        />
        <NumberField
          of="SessionConditions.seeing_arcsec"
          value={draft.seeing}
          onChange={(seeing) => set({ seeing })}
        />
        <label className="stacked wide">
          {terms.howTheNightWas}
          <Input
            aria-label={terms.howTheNightWas}
            maxLength={300}
            value={draft.words}
            onChange={(event) => set({ words: event.target.value })}
          />
        </label>
      </div>
      {subs.map((one, k) => (
        <SubsLine
          key={k}
          one={one}
          targets={targets}
          filters={filters}
          set={(next) => setSubs(subs.map((other, i) => (i === k ? next : other)))}
          leave={subs.length > 1 ? () => setSubs(subs.filter((_, i) => i !== k)) : undefined}
        />
      ))}
      <div className="part-fields">
        <Button
          onClick={() =>
            setSubs([
              ...subs,
              { ...line(), target: subs.at(-1)?.target ?? "", name: subs.at(-1)?.name ?? "" },
            ])
          }
        >
          {terms.anotherFilterOrTarget}
        </Button>
        <label className="stacked">
          {terms.whoWasThere}
          <Input
            aria-label={terms.whoWasThere}
            placeholder={terms.namesWithCommas}
            value={draft.people}
            onChange={(event) => set({ people: event.target.value })}
          />
        </label>
        <label className="stacked wide">
          {terms.notes}
          <Input.TextArea
            aria-label={terms.notesOfTheNight}
            autoSize
            maxLength={4000}
            value={draft.note}
            onChange={(event) => set({ note: event.target.value })}
          />
        </label>
      </div>
      <Losses draft={draft} set={(losses) => set({ losses })} />
      <MarkFields
        marks={draft.marks}
        set={(marks) => set({ marks })}
        filters={filters}
        weights={(rig?.counterweights ?? []).map((one) => one.part.name)}
        targets={targets.map((one) => one.label)}
        warm={draft.temperature}
      />
    </>
  );
}
