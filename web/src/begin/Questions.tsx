/** What is asked: every question has an answer to start with, and each change is answered anew. */
import { useQuery } from "@tanstack/react-query";
import { Button, Checkbox, Select, Slider } from "antd";
import { memo } from "react";
import { api, data } from "../api/client";
import type { Part } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { useShelf } from "../rig/PartPicker";
import { terms } from "../terms/begin";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { ABOUT, FIRST_RIG, GOALS, type Goal, NOT_WANTED, type RigRequest, START } from "./request";

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
  { value: 0, label: terms.asManyTripsAsItTakes },
  { value: 1, label: terms.oneTripOnFoot },
  { value: 2, label: terms.twoTrips },
  { value: 3, label: terms.threeTrips },
  { value: 4, label: terms.fourTrips },
];

interface Props {
  request: RigRequest;
  change: (part: Partial<RigRequest>) => void;
}

export const Questions = memo(function Questions({ request, change }: Props) {
  const shelf = useShelf();
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  const targets = useQuery({ queryKey: ["targets"], queryFn: () => data(api.GET("/api/v1/targets")) });
  const site = request.site ?? sites.data?.[0]?.id ?? null;
  const about = request.about ?? "a_bit_of_all";
  const narrowband = request.narrowband ?? false;
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
  const goals = { ...BEGINS, ...request.goals };
  const listed = targets.data ?? [];
  return (
    <form className="request" aria-label={terms.whatYouWish} onSubmit={(event) => event.preventDefault()}>
      <fieldset className="request-about">
        <legend>{terms.whatWouldYouLikeToPhotograph}</legend>
        {ABOUT.map(([key, title]) => (
          <button
            key={key}
            type="button"
            className="request-chip"
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
            aria-label={terms.targetsOfTheList}
            placeholder={terms.allOfThem}
            value={request.targets ?? []}
            options={listed.map((entry) => ({ value: entry.id, label: entry.body.name }))}
            onChange={(chosen: string[]) => change({ targets: chosen })}
          />
        ) : (
          <p className="quiet request-meant">{meant.data?.names.join(", ")}</p>
        )}
      </fieldset>
      <label className="request-field">
        <span>{common.from}</span>
        <Select
          aria-label={common.from}
          value={site}
          placeholder={terms.noSiteYet}
          options={(sites.data ?? []).map((entry) => ({ value: entry.id, label: entry.body.name }))}
          onChange={(chosen: string) => change({ site: chosen })}
        />
      </label>
      <div className="request-pair">
        <NumberField
          of="RequestTerms.money"
          label={phrase(terms.newMoneyCurrency2, { currency: request.currency ?? "EUR" })}
          value={request.money ?? null}
          onChange={(money) => change({ money })}
        />
        <NumberField
          of="RequestTerms.carried_kg"
          label={common.toCarry}
          value={request.carried_kg ?? null}
          onChange={(carried_kg) => change({ carried_kg })}
        />
      </div>
      <label className="request-field">
        <span>{terms.onFoot}</span>
        <Select
          aria-label={terms.onFoot}
          value={request.trips ?? 0}
          options={TRIPS}
          onChange={(trips: number) => change({ trips: trips || null })}
        />
      </label>
      {cases.length > 0 && (
        <label className="request-field">
          <span>{terms.inACase}</span>
          <Select
            allowClear
            aria-label={terms.inACase}
            placeholder={terms.inNone}
            value={request.case ?? undefined}
            options={cases.map((part) => ({ value: part.id ?? "", label: part.name }))}
            onChange={(chosen?: string) => change({ case: chosen ?? null })}
          />
        </label>
      )}
      <label className="request-field">
        <span>{terms.stays}</span>
        <Select
          mode="multiple"
          allowClear
          showSearch={{ optionFilterProp: "label" }}
          aria-label={terms.stays}
          placeholder={own.length ? terms.nothingHasTo : terms.youOwnNothingYet}
          value={request.stays ?? []}
          options={own.map((part) => ({ value: part.id ?? "", label: part.name }))}
          onChange={(stays: string[]) => change({ stays })}
        />
      </label>
      <label className="request-field">
        <span>{terms.notWanted}</span>
        <Select
          mode="multiple"
          allowClear
          aria-label={terms.notWanted}
          placeholder={terms.anythingGoes}
          value={request.not_wanted ?? []}
          options={NOT_WANTED.map(([value, label]) => ({ value, label }))}
          onChange={(not_wanted: RigRequest["not_wanted"]) => change({ not_wanted })}
        />
      </label>
      <div className="request-ticks">
        <Checkbox
          checked={request.second_hand ?? false}
          onChange={(event) => change({ second_hand: event.target.checked })}
        >
          {terms.boughtSecondHand}
        </Checkbox>
        <Checkbox
          checked={request.mains ?? false}
          onChange={(event) => change({ mains: event.target.checked })}
        >
          {terms.mainsAtHand}
        </Checkbox>
        <Checkbox
          checked={request.narrowband ?? false}
          onChange={(event) => change({ narrowband: event.target.checked })}
        >
          {terms.throughNarrowbandFilters}
        </Checkbox>
        <Checkbox
          checked={request.steady ?? true}
          onChange={(event) => change({ steady: event.target.checked })}
        >
          {terms.mountWithinItsWiseLoad}
        </Checkbox>
        <Checkbox
          checked={FIRST_RIG.every((one) => request.not_wanted?.includes(one))}
          onChange={(event) => {
            const rest = (request.not_wanted ?? []).filter(
              (one) => !(FIRST_RIG as readonly string[]).includes(one),
            );
            change({ not_wanted: event.target.checked ? [...rest, ...FIRST_RIG] : rest });
          }}
        >
          {terms.myFirstRig}
        </Checkbox>
      </div>
      <fieldset className="request-goals">
        <legend>{terms.whatCounts}</legend>
        {GOALS.map(([goal, title]) => (
          <div key={goal} className="request-goal">
            <span>{title}</span>
            <Slider
              min={0}
              max={1}
              step={0.1}
              ariaLabelForHandle={phrase(terms.howMuchTitleCounts, { title })}
              tooltip={{ formatter: null }}
              value={goals[goal]}
              onChange={(value) => change({ goals: { ...goals, [goal]: value } })}
            />
          </div>
        ))}
      </fieldset>
      <Button size="small" onClick={() => change({ ...EMPTY, ...START })}>
        {terms.reset}
      </Button>
    </form>
  );
});

const BEGINS: Record<Goal, number> = { fit: 0.9, money: 0.6, mass: 0.4, speed: 0.5, ease: 0.4 };
const EMPTY: Partial<RigRequest> = {
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
