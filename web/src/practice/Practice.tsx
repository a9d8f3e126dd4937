import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Radio } from "antd";
import { useState } from "react";
import { api, data, Refused, words } from "../api/client";
import type { Practice as PracticeBody, PracticeKept } from "../api/types";
import { QuantityInput } from "../drawing/QuantityInput";
import { ConnectorSizes } from "./ConnectorSizes";
import { usePractice } from "./usePractice";
import "./practice.module.css";

interface Entry {
  key: keyof PracticeBody;
  label: string;
  unit: string;
  low: number;
  high: number;
  percent?: boolean;
}

const ASSUMED: Entry[] = [
  { key: "default_seeing_arcsec", label: "Seeing where the site names none", unit: "″", low: 0.2, high: 15 },
  { key: "assumed_airmass", label: "Airmass assumed", unit: "", low: 1, high: 10 },
  { key: "guiding_rms_arcsec", label: "Guiding RMS per axis assumed", unit: "″", low: 0, high: 30 },
  {
    key: "guiding_floor_arcsec",
    label: "Guiding RMS no unmeasured mount is believed to beat",
    unit: "″",
    low: 0,
    high: 30,
  },
  { key: "extinction_mag", label: "Extinction per airmass", unit: "mag", low: 0, high: 2 },
  { key: "polar_error_arcmin", label: "Polar alignment error assumed", unit: "′", low: 0, high: 600 },
  { key: "wind_m_s", label: "Wind where the site names none", unit: "m/s", low: 0, high: 40 },
  {
    key: "night_temperature_c",
    label: "Night temperature where the site names none",
    unit: "°C",
    low: -60,
    high: 45,
  },
  {
    key: "humidity",
    label: "Humidity where the site names none",
    unit: "%",
    low: 1,
    high: 100,
    percent: true,
  },
  { key: "night_hours", label: "Hours on where no night is given", unit: "h", low: 0.5, high: 24 },
  {
    key: "setup_hours",
    label: "On to set up and cool down, beside the dark hours",
    unit: "h",
    low: 0,
    high: 8,
  },
  {
    key: "flats_hours",
    label: "On for flats and packing, beside the dark hours",
    unit: "h",
    low: 0,
    high: 8,
  },
  { key: "sensor_c", label: "Sensor temperature wanted", unit: "°C", low: -60, high: 30 },
  { key: "heater_duty", label: "Duty of dew heaters", unit: "%", low: 0, high: 100, percent: true },
];
const LIMITS: Entry[] = [
  { key: "altitude_limit_deg", label: "Altitude a target should reach", unit: "°", low: 10, high: 80 },
  {
    key: "altitude_floor_deg",
    label: "Altitude below which nothing is worth it",
    unit: "°",
    low: 0,
    high: 60,
  },
  {
    key: "small_target_share",
    label: "A target is small below this share of the field",
    unit: "%",
    low: 1,
    high: 90,
    percent: true,
  },
  { key: "mosaic_overlap", label: "Mosaic overlap", unit: "%", low: 0, high: 50, percent: true },
  { key: "mosaic_max_tiles", label: "Most tiles worth shooting", unit: "", low: 1, high: 400 },
  {
    key: "focal_length_tolerance",
    label: "Focal length off nominal",
    unit: "%",
    low: 0.1,
    high: 50,
    percent: true,
  },
  {
    key: "corner_light_share",
    label: "Light in the corners worth having",
    unit: "%",
    low: 5,
    high: 100,
    percent: true,
  },
  {
    key: "racked_out_share",
    label: "Drawtube racked far out above",
    unit: "%",
    low: 10,
    high: 100,
    percent: true,
  },
  { key: "lift_kg", label: "Heaviest lift for one person", unit: "kg", low: 2, high: 60 },
  { key: "trip_kg", label: "Load of one trip on foot", unit: "kg", low: 2, high: 60 },
  { key: "flight_kg", label: "Flight limit of one piece", unit: "kg", low: 2, high: 60 },
  { key: "energy_reserve", label: "Energy kept in reserve", unit: "%", low: 0, high: 90, percent: true },
  { key: "dew_margin_k", label: "Dew margin wanted", unit: "K", low: 0, high: 20 },
  { key: "part_tolerance_mm", label: "Tolerance of a part's length assumed", unit: "mm", low: 0, high: 1 },
  { key: "calliper_tolerance_mm", label: "Tolerance of a calliper reading", unit: "mm", low: 0, high: 1 },
];

const QUESTIONS = [
  { key: "sampling", title: "Pixel sampling", rule: "O2" },
  { key: "spacing_tolerance", title: "Spacing tolerance", rule: "S2" },
  { key: "built_in_corrector", title: "Built-in correctors", rule: "S3" },
  { key: "payload", title: "Share of the rated payload", rule: "L1" },
  { key: "weights", title: "Counterweights", rule: "L3" },
  { key: "ra_balance", title: "Balance in right ascension", rule: "L13" },
  { key: "side_balance", title: "Side riders", rule: "L5" },
  { key: "guiding", title: "Guide scope or off-axis", rule: "G2" },
] as const;

/** Which school to follow, what to assume, how to show numbers. */
export default function Practice() {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const practice = usePractice();
  const rules = useQuery({
    queryKey: ["rules"],
    queryFn: () => data(api.GET("/api/v1/rules")),
    staleTime: 1e9,
  });
  const [fault, setFault] = useState("");
  // What hands have set and the server has not answered yet: a choice shows in the moment it is made.
  const [ahead, setAhead] = useState<Partial<PracticeBody>>({});
  const change = useMutation({
    mutationKey: ["practice"],
    // One save after the other, each on what the one before it left: quick hands lose nothing.
    scope: { id: "practice" },
    mutationFn: (_part: Partial<PracticeBody>) => {
      const now = client.getQueryData<PracticeKept>(["practice"]);
      if (!now) throw new Error("the practice is not read yet");
      return data(api.PUT("/api/v1/practice", { body: { base: now.version, body: now.body } }));
    },
    // Shown at once; put back if it is refused.
    onMutate: async (part) => {
      await client.cancelQueries({ queryKey: ["practice"] });
      const before = client.getQueryData<PracticeKept>(["practice"]);
      if (before) client.setQueryData(["practice"], { ...before, body: { ...before.body, ...part } });
      return before;
    },
    onSuccess: (kept) => {
      setFault("");
      // The newest choices stay on show while later saves are under way.
      client.setQueryData<PracticeKept>(["practice"], (shown) =>
        shown ? { ...shown, version: kept.version } : kept,
      );
      void client.invalidateQueries({ queryKey: ["board"] });
    },
    onSettled: () => {
      if (client.isMutating({ mutationKey: ["practice"] }) <= 1) setAhead({});
    },
    onError: (error, _body, before) => {
      client.setQueryData(["practice"], before);
      setFault(words(error));
      if (error instanceof Refused && error.status === 409) {
        void practice.refetch();
        notification.warning({
          message: "Changed in another window",
          description: "The newest practice is shown; set yours again.",
        });
      }
    },
  });
  if (!practice.data) return <p className="loading">{practice.error ? words(practice.error) : "Opening…"}</p>;
  const body = { ...practice.data.body, ...ahead };
  const set = (part: Partial<PracticeBody>) => {
    setAhead((now) => ({ ...now, ...part }));
    change.mutate(part);
  };
  const schoolsOf = (code: string) => rules.data?.find((rule) => rule.code === code)?.schools ?? [];
  const number = (entry: Entry) => {
    const factor = entry.percent ? 100 : 1;
    return (
      <QuantityInput
        key={entry.key}
        label={entry.label}
        unit={entry.unit}
        low={entry.low}
        high={entry.high}
        required
        whole={entry.key === "mosaic_max_tiles"}
        value={Number(((body[entry.key] as number) * factor).toFixed(6))}
        onChange={(value, valid) => valid && value !== null && set({ [entry.key]: value / factor })}
      />
    );
  };
  return (
    <main className="practice">
      <h1>Practice</h1>
      <p className="quiet">Changes are kept at once and felt in every rig that does not choose otherwise.</p>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="practice-columns">
        <section>
          {QUESTIONS.map(({ key, title, rule }) => (
            <div key={key}>
              <h2>{title}</h2>
              <Radio.Group
                value={body[key]}
                onChange={(event) => set({ [key]: event.target.value })}
                className="school-list"
              >
                {schoolsOf(rule).map((school) => (
                  <Radio key={school.key} value={school.key}>
                    <strong>{school.title}</strong>
                    <span className="quiet">{school.says}</span>
                  </Radio>
                ))}
              </Radio.Group>
            </div>
          ))}
          <h2>What counts as dark</h2>
          <Radio.Group
            aria-label="What counts as dark"
            value={body.darkness}
            onChange={(event) => set({ darkness: event.target.value })}
            options={[
              { value: "astronomical", label: "Sun below −18°" },
              { value: "nautical", label: "Sun below −12°" },
            ]}
          />
          <h2>Units</h2>
          <Radio.Group
            value={body.units}
            onChange={(event) => set({ units: event.target.value })}
            options={[
              { value: "metric", label: "Metric" },
              { value: "imperial", label: "Imperial" },
            ]}
          />
          <p className="quiet">Numbers can be typed with any unit: 2in, 11 lb, 55 mm.</p>
          {(body.beliefs_put_away ?? []).length > 0 && (
            <Button onClick={() => set({ beliefs_put_away: [] })}>
              Show the corrected beliefs again that were put away ({body.beliefs_put_away?.length})
            </Button>
          )}
        </section>
        <section>
          <h2>Assumed until measured</h2>
          {ASSUMED.map(number)}
          <h2>Limits</h2>
          {LIMITS.map(number)}
        </section>
        <div>
          <ConnectorSizes
            sizes={body.connector_sizes ?? []}
            onChange={(connector_sizes) => set({ connector_sizes })}
          />
        </div>
      </div>
    </main>
  );
}
