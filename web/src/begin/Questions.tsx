/** What is asked: every question has an answer to start with, and each change is answered anew. */
import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Select, Slider } from "antd";
import { memo } from "react";
import { api, data } from "../api/client";
import type { Part } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { useShelf } from "../rig/PartPicker";
import { ABOUT, FIRST_RIG, GOALS, type Goal, NOT_WANTED, START, type Wish } from "./wish";

const STAYS: readonly Part["kind"][] = [
  "telescope",
  "corrector",
  "camera",
  "filter_holder",
  "guide_scope",
  "off_axis_guider",
  "mount",
  "support",
  "power_source",
];
const HAD = ["owned", "borrowed"];
const TRIPS = [
  { value: 0, label: "as many trips as it takes" },
  { value: 1, label: "one trip on foot" },
  { value: 2, label: "two trips" },
  { value: 3, label: "three trips" },
  { value: 4, label: "four trips" },
];

interface Props {
  wish: Wish;
  change: (part: Partial<Wish>) => void;
}

export const Questions = memo(function Questions({ wish, change }: Props) {
  const shelf = useShelf();
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  const targets = useQuery({ queryKey: ["targets"], queryFn: () => data(api.GET("/api/v1/targets")) });
  const site = wish.site ?? sites.data?.[0]?.id ?? null;
  const about = wish.about ?? "a_bit_of_all";
  const narrowband = wish.narrowband ?? false;
  const meant = useQuery({
    queryKey: ["wished", about, site, narrowband],
    queryFn: () =>
      data(
        api.GET("/api/v1/design/targets", {
          params: { query: { about, site: site ?? undefined, narrowband } },
        }),
      ),
    enabled: about !== "list" || (targets.data?.length ?? 0) > 0,
  });
  const parts = (shelf.data ?? []).map((entry) => entry.body);
  const own = parts.filter((part) => STAYS.includes(part.kind) && HAD.includes(part.status ?? "owned"));
  const cases = parts.filter((part) => part.kind === "accessory" && part.function === "case");
  const goals = { ...BEGINS, ...wish.goals };
  const listed = targets.data ?? [];
  return (
    <form className="wish" aria-label="What you wish" onSubmit={(event) => event.preventDefault()}>
      <fieldset className="wish-about">
        <legend>What would you like to photograph?</legend>
        {ABOUT.map(([key, title]) => (
          <button
            key={key}
            type="button"
            className="wish-chip"
            aria-pressed={about === key}
            disabled={key === "list" && listed.length === 0}
            onClick={() => change({ about: key })}
          >
            {key === "list" ? `${title} (${listed.length})` : title}
          </button>
        ))}
        {about === "list" ? (
          <Select
            mode="multiple"
            allowClear
            size="small"
            aria-label="Targets of the list"
            placeholder="all of them"
            value={wish.targets ?? []}
            options={listed.map((entry) => ({ value: entry.id, label: entry.body.name }))}
            onChange={(chosen: string[]) => change({ targets: chosen })}
          />
        ) : (
          <p className="quiet wish-meant">{meant.data?.names.join(", ")}</p>
        )}
      </fieldset>
      <label className="wish-field">
        <span>From</span>
        <Select
          aria-label="From"
          value={site}
          placeholder="no site yet"
          options={(sites.data ?? []).map((entry) => ({ value: entry.id, label: entry.body.name }))}
          onChange={(chosen: string) => change({ site: chosen })}
        />
      </label>
      <div className="wish-pair">
        <NumberField
          of="WishTerms.money"
          label={`New money, ${wish.currency ?? "EUR"}`}
          value={wish.money ?? null}
          onChange={(money) => change({ money })}
        />
        <NumberField
          of="WishTerms.carried_kg"
          label="To carry"
          value={wish.carried_kg ?? null}
          onChange={(carried_kg) => change({ carried_kg })}
        />
      </div>
      <label className="wish-field">
        <span>On foot</span>
        <Select
          aria-label="On foot"
          value={wish.trips ?? 0}
          options={TRIPS}
          onChange={(trips: number) => change({ trips: trips || null })}
        />
      </label>
      {cases.length > 0 && (
        <label className="wish-field">
          <span>In a case</span>
          <Select
            allowClear
            aria-label="In a case"
            placeholder="in none"
            value={wish.case ?? undefined}
            options={cases.map((part) => ({ value: part.id ?? "", label: part.name }))}
            onChange={(chosen?: string) => change({ case: chosen ?? null })}
          />
        </label>
      )}
      <label className="wish-field">
        <span>Stays</span>
        <Select
          mode="multiple"
          allowClear
          showSearch={{ optionFilterProp: "label" }}
          aria-label="Stays"
          placeholder={own.length ? "nothing has to" : "you own nothing yet"}
          value={wish.stays ?? []}
          options={own.map((part) => ({ value: part.id ?? "", label: part.name }))}
          onChange={(stays: string[]) => change({ stays })}
        />
      </label>
      <label className="wish-field">
        <span>Not wanted</span>
        <Select
          mode="multiple"
          allowClear
          aria-label="Not wanted"
          placeholder="anything goes"
          value={wish.not_wanted ?? []}
          options={NOT_WANTED.map(([value, label]) => ({ value, label }))}
          onChange={(not_wanted: Wish["not_wanted"]) => change({ not_wanted })}
        />
      </label>
      <div className="wish-ticks">
        <Checkbox
          checked={wish.second_hand ?? false}
          onChange={(event) => change({ second_hand: event.target.checked })}
        >
          bought second-hand
        </Checkbox>
        <Checkbox checked={wish.mains ?? false} onChange={(event) => change({ mains: event.target.checked })}>
          mains at hand
        </Checkbox>
        <Checkbox
          checked={wish.narrowband ?? false}
          onChange={(event) => change({ narrowband: event.target.checked })}
        >
          through narrowband filters
        </Checkbox>
        <Checkbox
          checked={wish.steady ?? true}
          onChange={(event) => change({ steady: event.target.checked })}
        >
          mount within its wise load
        </Checkbox>
        <Checkbox
          checked={FIRST_RIG.every((one) => wish.not_wanted?.includes(one))}
          onChange={(event) => {
            const rest = (wish.not_wanted ?? []).filter(
              (one) => !(FIRST_RIG as readonly string[]).includes(one),
            );
            change({ not_wanted: event.target.checked ? [...rest, ...FIRST_RIG] : rest });
          }}
        >
          my first rig
        </Checkbox>
      </div>
      <fieldset className="wish-goals">
        <legend>What counts</legend>
        {GOALS.map(([goal, title]) => (
          <div key={goal} className="wish-goal">
            <span>{title}</span>
            <Slider
              min={0}
              max={1}
              step={0.1}
              ariaLabelForHandle={`How much ${title} counts`}
              tooltip={{ formatter: null }}
              value={goals[goal]}
              onChange={(value) => change({ goals: { ...goals, [goal]: value } })}
            />
          </div>
        ))}
      </fieldset>
      <Button size="small" onClick={() => change({ ...EMPTY, ...START })}>
        Wish anew
      </Button>
    </form>
  );
});

const BEGINS: Record<Goal, number> = { fit: 0.9, money: 0.6, mass: 0.4, speed: 0.5, ease: 0.4 };
const EMPTY: Partial<Wish> = {
  targets: [],
  site: null,
  carried_kg: null,
  case: null,
  stays: [],
  not_wanted: [],
  second_hand: false,
  mains: false,
  narrowband: false,
  steady: true,
  goals: undefined,
};
