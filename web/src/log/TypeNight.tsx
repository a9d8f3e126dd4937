/** A night typed in a minute: rig, evening, subs; conditions, marks and people where they are known. Typed things stay. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useEffect, useState } from "react";
import { api, data, words } from "../api/client";
import type { SessionShown, SessionSubs, WorkedMark } from "../api/types";
import { useChosenNight } from "../app/night";
import { NumberField } from "../kit/NumberField";
import { MarkFields } from "./MarkFields";

const KEY = "dravel.typed-night";
const UNTYPED = 0;
interface Draft {
  key: string;
  rig: string | null;
  night: string;
  subs: SessionSubs[];
  why: string;
  people: string;
  note: string;
  temperature: number | null;
  seeing: number | null;
  words: string;
  from: string;
  until: string;
  marks: WorkedMark[];
}
const line = (): SessionSubs => ({
  target: "",
  name: "",
  filter: "",
  sub_s: UNTYPED,
  planned: 20,
  taken: 20,
  kept: 20,
});
const blank = (night: string): Draft => ({
  key: crypto.randomUUID(),
  rig: null,
  night,
  subs: [line()],
  why: "",
  people: "",
  note: "",
  temperature: null,
  seeing: null,
  words: "",
  from: "",
  until: "",
  marks: [],
});
/** A kept session as it would have been typed. */
function typed({ record }: SessionShown): Draft {
  return {
    ...blank(record.night),
    rig: record.rig_id,
    subs: [...(record.subs ?? [])],
    why: record.losses?.[0]?.why ?? "",
    people: (record.people ?? []).join(", "),
    note: record.note ?? "",
    temperature: record.conditions?.temperature_c ?? null,
    seeing: record.conditions?.seeing_arcsec ?? null,
    words: record.conditions?.words ?? "",
    marks: [...(record.marks ?? [])],
  };
}
function kept(night: string, key: string): Draft {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? "null") as Draft | null;
    return found ? { ...blank(night), ...found, ...(night ? { night } : {}) } : blank(night);
  } catch {
    return blank(night);
  }
}

interface Props {
  night: string;
  /** The session that is changed; without one a new one is kept. */
  session?: SessionShown;
  done: (id: string) => Promise<unknown>;
  close: () => void;
}

export function TypeNight({ night, session, done, close }: Props) {
  const key = session ? `${KEY}.${session.id}` : KEY;
  const chosen = useChosenNight();
  const [draft, setDraft] = useState(() =>
    session && localStorage.getItem(key) === null ? typed(session) : kept(night || (chosen.night ?? ""), key),
  );
  useEffect(() => localStorage.setItem(key, JSON.stringify(draft)), [draft, key]);
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const rigId = draft.rig ?? rigs.data?.[0]?.id ?? null;
  const rig = useQuery({
    queryKey: ["rig", rigId],
    enabled: rigId !== null,
    queryFn: () => data(api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: rigId ?? "" } } })),
  });
  const targets = (rig.data?.rig.framings ?? []).map(({ target }) => ({
    value: target.id ?? target.name,
    label: target.name,
  }));
  const filters = [
    ...new Set((rig.data?.rig.path ?? []).flatMap((item) => (item.filters ?? []).map((one) => one.name))),
  ];
  const set = (change: Partial<Draft>) => setDraft((now) => ({ ...now, ...change }));
  const setLine = (k: number, change: Partial<SessionSubs>) =>
    set({ subs: draft.subs.map((one, i) => (i === k ? { ...one, ...change } : one)) });
  const lost = draft.subs.reduce((all, one) => all + Math.max(0, one.taken - one.kept), 0);
  // A sub nobody typed is as long as the rig's own.
  const own = rig.data?.rig.guide?.sub_s;
  useEffect(() => {
    if (own === undefined) return;
    setDraft((now) => ({
      ...now,
      subs: now.subs.map((one) => (one.sub_s === UNTYPED ? { ...one, sub_s: own } : one)),
    }));
  }, [own]);
  const named = draft.subs.map((one) => ({
    ...one,
    target: one.target || targets[0]?.value || "",
    name: one.name || targets.find(({ value }) => value === (one.target || targets[0]?.value))?.label || "",
    planned: Math.max(one.planned, one.taken),
  }));
  const told = {
    night: draft.night,
    subs: named.filter((one) => one.target && one.taken > 0),
    losses: lost > 0 ? [{ why: draft.why.trim() || "no reason noted", count: lost }] : [],
    marks: draft.marks,
    people: draft.people
      .split(",")
      .map((one) => one.trim())
      .filter(Boolean),
    note: draft.note,
  };
  const conditions = { temperature_c: draft.temperature, seeing_arcsec: draft.seeing, words: draft.words };
  const keep = useMutation({
    mutationFn: () =>
      session
        ? data(
            api.PUT("/api/v1/sessions/{session_id}", {
              params: { path: { session_id: session.id } },
              body: {
                base: session.version,
                record: {
                  ...session.record,
                  ...told,
                  conditions: { ...session.record.conditions, ...conditions },
                } as never,
              },
            }),
          )
        : data(
            api.POST("/api/v1/sessions", {
              headers: { "Idempotency-Key": draft.key } as never,
              body: {
                ...told,
                conditions,
                rig_id: rigId ?? "",
                from_clock: draft.from,
                until_clock: draft.until,
              } as never,
            }),
          ),
    onSuccess: async (made) => {
      localStorage.removeItem(key);
      await done(made.id);
    },
  });
  return (
    <form
      className="type-night"
      aria-label={session ? "Change this night" : "Type a night"}
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <div className="part-fields">
        <label className="stacked">
          Rig
          <Select
            aria-label="Rig of the night"
            disabled={session !== undefined}
            value={rigId}
            options={(rigs.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
            onChange={(next: string) => set({ rig: next, subs: [line()] })}
          />
        </label>
        <label className="stacked">
          Evening of
          <input
            type="date"
            required
            aria-label="Evening of"
            value={draft.night}
            min="1950-01-01"
            max="2099-12-31"
            onChange={(event) => set({ night: event.target.value })}
          />
        </label>
        {!session && (
          <>
            <label className="stacked">
              From
              <input
                type="time"
                aria-label="From, on the site's clock"
                value={draft.from}
                onChange={(event) => set({ from: event.target.value })}
              />
            </label>
            <label className="stacked">
              Until
              <input
                type="time"
                aria-label="Until, on the site's clock"
                value={draft.until}
                onChange={(event) => set({ until: event.target.value })}
              />
            </label>
          </>
        )}
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
          How the night was
          <Input
            aria-label="How the night was"
            maxLength={300}
            value={draft.words}
            onChange={(event) => set({ words: event.target.value })}
          />
        </label>
      </div>
      {draft.subs.map((one, k) => (
        <div key={k} className="part-fields subs-line">
          <label className="stacked">
            Target
            <Select
              aria-label="Target of the subs"
              showSearch
              value={one.target || targets[0]?.value}
              options={targets}
              onChange={(target: string) =>
                setLine(k, { target, name: targets.find(({ value }) => value === target)?.label ?? "" })
              }
            />
          </label>
          <label className="stacked">
            Filter
            <Select
              aria-label="Filter of the subs"
              value={one.filter || ""}
              options={[
                { value: "", label: "none" },
                ...filters.map((name) => ({ value: name, label: name })),
              ]}
              onChange={(filter: string) => setLine(k, { filter })}
            />
          </label>
          <NumberField
            of="SessionSubs.sub_s"
            value={one.sub_s}
            onChange={(sub_s) => sub_s !== null && setLine(k, { sub_s })}
          />
          <NumberField
            of="SessionSubs.taken"
            value={one.taken}
            onChange={(taken) => taken !== null && setLine(k, { taken, kept: Math.min(one.kept, taken) })}
          />
          <NumberField
            of="SessionSubs.kept"
            within={[0, one.taken]}
            value={one.kept}
            onChange={(kept) => kept !== null && setLine(k, { kept })}
          />
          {draft.subs.length > 1 && (
            <Button size="small" onClick={() => set({ subs: draft.subs.filter((_, i) => i !== k) })}>
              Leave out
            </Button>
          )}
        </div>
      ))}
      <div className="part-fields">
        <Button
          onClick={() =>
            set({ subs: [...draft.subs, { ...line(), target: draft.subs.at(-1)?.target ?? "" }] })
          }
        >
          Another filter or target
        </Button>
        {lost > 0 && (
          <label className="stacked">
            Why {lost} were thrown away
            <Input
              aria-label="Why subs were thrown away"
              maxLength={120}
              value={draft.why}
              onChange={(event) => set({ why: event.target.value })}
            />
          </label>
        )}
        <label className="stacked">
          Who was there
          <Input
            aria-label="Who was there"
            placeholder="names, with commas"
            value={draft.people}
            onChange={(event) => set({ people: event.target.value })}
          />
        </label>
        <label className="stacked wide">
          Notes
          <Input.TextArea
            aria-label="Notes of the night"
            autoSize
            maxLength={4000}
            value={draft.note}
            onChange={(event) => set({ note: event.target.value })}
          />
        </label>
      </div>
      <MarkFields
        marks={draft.marks}
        set={(marks) => set({ marks })}
        filters={filters}
        weights={(rig.data?.rig.counterweights ?? []).map((one) => one.part.name)}
        targets={targets.map((one) => one.label)}
        warm={draft.temperature}
      />
      {keep.error && (
        <p className="fault" role="alert">
          {words(keep.error)}
        </p>
      )}
      <div className="button-row">
        <Button type="primary" htmlType="submit" loading={keep.isPending} disabled={!rigId || !draft.night}>
          {session ? "Keep the change" : "Keep this night"}
        </Button>
        <Button onClick={close}>Later; what is typed stays</Button>
        <Button
          onClick={() => {
            localStorage.removeItem(key);
            setDraft(session ? typed(session) : blank(night));
          }}
        >
          {session ? "As it was kept" : "Clear"}
        </Button>
      </div>
    </form>
  );
}
