/** A place to observe from: where it lies, its clocks, its sky and its usual weather. */
import { Button, Input, Select } from "antd";
import { lazy, Suspense, useState } from "react";
import { api, data, words } from "../api/client";
import type { Site, SiteKept } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { terms } from "../terms/sky";
import { Months } from "./Months";
import { PlaceField } from "./PlaceField";

const PlaceMap = lazy(() => import("./PlaceMap"));

const FIELDS = [
  "latitude_deg",
  "longitude_deg",
  "elevation_m",
  "sky_brightness_mag_arcsec2",
  "sky_class",
  "seeing_arcsec",
  "night_temperature_c",
  "humidity",
  "wind_m_s",
] as const;

export function SiteForm({ kept, onChange }: { kept: SiteKept; onChange: (part: Partial<Site>) => void }) {
  const { body } = kept;
  const [zone, setZone] = useState(body.timezone ?? "UTC");
  const [fault, setFault] = useState("");

  async function findZone() {
    try {
      const found = await data(
        api.GET("/api/v1/sky/timezone", {
          params: { query: { latitude_deg: body.latitude_deg, longitude_deg: body.longitude_deg } },
        }),
      );
      setZone(found.timezone);
      setFault("");
      onChange({ timezone: found.timezone });
    } catch (error) {
      setFault(words(error));
    }
  }

  return (
    <fieldset className="site">
      <legend>{body.name}</legend>
      <label data-testid="quantity" className="quantity wide">
        <span className="quantity-label">{terms.name}</span>
        <Input
          key={body.name}
          defaultValue={body.name}
          maxLength={120}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name && name !== body.name) onChange({ name });
          }}
        />
      </label>
      <div className="wide">
        <Suspense fallback={<p className="quiet">{terms.drawingTheMap}</p>}>
          <PlaceMap
            latitude={body.latitude_deg}
            longitude={body.longitude_deg}
            onPick={(latitude_deg, longitude_deg) => onChange({ latitude_deg, longitude_deg })}
          />
        </Suspense>
      </div>
      <PlaceField onRead={(latitude_deg, longitude_deg) => onChange({ latitude_deg, longitude_deg })} />
      {FIELDS.map((key) => (
        <NumberField
          key={key}
          of={`Site.${key}`}
          value={body[key] ?? null}
          onChange={(value) => onChange({ [key]: value })}
        />
      ))}
      <label data-testid="quantity" className="quantity wide">
        <span className="quantity-label">{terms.streetLightNearby}</span>
        <Select
          aria-label={terms.streetLightNearby}
          value={body.lamps ?? ""}
          onChange={(lamps) => onChange({ lamps: lamps === "led" || lamps === "sodium" ? lamps : null })}
          options={[
            { value: "", label: terms.noneOrNotKnown },
            { value: "led", label: terms.ledAllColours },
            { value: "sodium", label: terms.sodiumOrange },
          ]}
        />
      </label>
      <Months key={body.id} site={body} onChange={onChange} />
      <label data-testid="quantity" className="quantity wide">
        <span className="quantity-label">{terms.timeZone}</span>
        <span className="with-button">
          <Input
            value={zone}
            aria-label={terms.timeZone}
            status={fault ? "error" : undefined}
            onChange={(event) => setZone(event.target.value)}
            onBlur={() => zone.trim() && zone !== body.timezone && onChange({ timezone: zone.trim() })}
          />
          <Button onClick={() => void findZone()}>{terms.fromItsPlace}</Button>
        </span>
        {fault && <span className="fault">{fault}</span>}
      </label>
    </fieldset>
  );
}
