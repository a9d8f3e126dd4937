import { useQuery } from "@tanstack/react-query";
import { App, Button, Radio } from "antd";
import { useState } from "react";
import { api, data, Refused, words } from "../api/client";
import type { Preferences as PreferencesBody } from "../api/types";
import { useQueuedEdits } from "../api/useQueuedEdits";
import { NumberField } from "../kit/NumberField";
import { terms as common } from "../terms/common";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/preferences";
import { ConnectorSizes } from "./ConnectorSizes";
import { usePreferences } from "./usePreferences";
import "./preferences.module.css";

const ASSUMED = [
  "default_seeing_arcsec",
  "assumed_airmass",
  "guiding_rms_arcsec",
  "guiding_floor_arcsec",
  "extinction_mag",
  "polar_error_arcmin",
  "wind_m_s",
  "night_temperature_c",
  "humidity",
  "night_hours",
  "setup_hours",
  "flats_hours",
  "sensor_c",
  "heater_duty",
] as const;
const LIMITS = [
  "altitude_limit_deg",
  "altitude_floor_deg",
  "small_target_share",
  "mosaic_overlap",
  "mosaic_max_tiles",
  "focal_length_tolerance",
  "corner_light_share",
  "racked_out_share",
  "lift_kg",
  "trip_kg",
  "flight_kg",
  "energy_reserve",
  "dew_margin_k",
  "part_tolerance_mm",
  "calliper_tolerance_mm",
] as const;

const EXPOSING = [
  "target_snr",
  "nights_a_target",
  "read_noise_margin",
  "habit_sub_s",
  "star_magnitude",
  "download_s",
  "dither_s",
  "refocus_min",
  "refocus_hours",
  "flip_min",
  "calibration_count",
  "spare_share",
  "reader_mb_s",
  "link_mb_s",
] as const;

const QUESTIONS = [
  { key: "sampling", title: terms.pixelSampling, rule: "O2" },
  { key: "spacing_tolerance", title: terms.spacingTolerance, rule: "S2" },
  { key: "built_in_corrector", title: terms.builtInCorrectors, rule: "S3" },
  { key: "payload", title: terms.shareOfTheRatedPayload, rule: "L1" },
  { key: "weights", title: terms.counterweights, rule: "L3" },
  { key: "ra_balance", title: terms.balanceInRightAscension, rule: "L13" },
  { key: "side_balance", title: terms.sideRiders, rule: "L5" },
  { key: "guiding", title: terms.guideScopeOrOffAxis, rule: "G2" },
  { key: "sub_length", title: terms.lengthOfASub, rule: "E1" },
] as const;

/** Which school to follow, what to assume, how to show numbers. */
export default function Preferences() {
  const { notification } = App.useApp();
  const preferences = usePreferences();
  const rules = useQuery({
    queryKey: ["rules"],
    queryFn: () => data(api.GET("/api/v1/rules")),
    staleTime: 1e9,
  });
  const [fault, setFault] = useState("");
  const edit = useQueuedEdits<PreferencesBody>(
    "preferences",
    (_id, base, body) => data(api.PUT("/api/v1/preferences", { body: { base, body } })),
    (error) => {
      setFault(error === null ? "" : words(error));
      if (error instanceof Refused && error.status === 409)
        notification.warning({
          message: terms.changedInAnotherWindow,
          description: terms.theNewestPreferencesAreShownSet,
        });
    },
  );
  if (!preferences.data)
    return <p className="loading">{preferences.error ? words(preferences.error) : common.opening}</p>;
  const { body } = preferences.data;
  const set = (part: Partial<PreferencesBody>) => edit("", part);
  const schoolsOf = (code: string) => rules.data?.find((rule) => rule.code === code)?.schools ?? [];
  const number = (key: (typeof ASSUMED | typeof LIMITS | typeof EXPOSING)[number]) => (
    <NumberField
      key={key}
      of={`Preferences.${key}`}
      value={body[key] ?? null}
      onChange={(value) => set({ [key]: value })}
    />
  );
  return (
    <main className="preferences">
      <h1>{terms.preferences}</h1>
      <p className="quiet">{terms.changesAreKeptAtOnceAnd}</p>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="preferences-columns" data-given>
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
          <h2>{terms.whatCountsAsDark}</h2>
          <Radio.Group
            aria-label={terms.whatCountsAsDark}
            value={body.darkness}
            onChange={(event) => set({ darkness: event.target.value })}
            options={[
              { value: "astronomical", label: terms.sunBelow18 },
              { value: "nautical", label: terms.sunBelow12 },
            ]}
          />
          <h2>{terms.units}</h2>
          <Radio.Group
            value={body.units}
            onChange={(event) => set({ units: event.target.value })}
            options={[
              { value: "metric", label: terms.metric },
              { value: "imperial", label: terms.imperial },
            ]}
          />
          <p className="quiet">{terms.numbersCanBeTypedWithAny}</p>
          {(body.beliefs_put_away ?? []).length > 0 && (
            <Button onClick={() => set({ beliefs_put_away: [] })}>
              <Phrase
                of={terms.showTheCorrectedBeliefsAgainThat}
                with={{ beliefs_put_away: body.beliefs_put_away?.length }}
              />
            </Button>
          )}
        </section>
        <section>
          <h2>{terms.assumedUntilMeasured}</h2>
          {ASSUMED.map(number)}
          <h2>{common.limits}</h2>
          {LIMITS.map(number)}
        </section>
        <div>
          <section className="exposing">
            <h2>{terms.exposing}</h2>
            {EXPOSING.map(number)}
          </section>
          <ConnectorSizes
            sizes={body.connector_sizes ?? []}
            onChange={(connector_sizes) => set({ connector_sizes })}
          />
        </div>
      </div>
    </main>
  );
}
