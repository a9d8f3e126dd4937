/** The Glass step: the star on the pixel grid, the image circle over the sensor, and every corrector compared. */
import { InputNumber, Select } from "antd";
import { useEffect, useState } from "react";
import { api, data } from "../../api/client";
import type { GlassView, Option, Rig } from "../../api/types";
import { FigureValue } from "../../kit/FigureValue";
import { Mark } from "../../kit/Mark";
import { NumberField } from "../../kit/NumberField";
import { fixed, plain } from "../../kit/quantity";
import { useLatest } from "../../kit/useLatest";
import type { StepProps } from "../step";
import { CircleOverSensor } from "./CircleOverSensor";
import { FocalSlider } from "./FocalSlider";
import { StarGrid } from "./StarGrid";
import "./glass.module.css";

export default function Glass({ rig, evaluation, commit, patch }: StepProps) {
  const [view, setView] = useState<GlassView | null>(null);
  const ask = useLatest((given: Rig) => data(api.POST("/api/v1/glass", { body: { rig: given } })), setView);
  useEffect(() => {
    void ask(rig);
  }, [rig, ask]);
  const figures =
    evaluation?.figures.filter((figure) => !figure.subject && figure.key.startsWith("optics.")) ?? [];
  const choose = (option: Option) => {
    if (!option.in_use) patch(option.change, option.part_id ? `${option.label} laid` : "corrector taken out");
  };
  const solved = rig.measured_focal_length_mm;
  return (
    <div data-testid="glass-step" className="glass-step">
      <div className="glass-pictures">
        <figure>
          <figcaption>
            Star on the pixel grid
            {view?.star && (
              <span className="quiet num">
                {" "}
                {plain(view.star.fwhm_px, 1)} px, {plain(view.star.fwhm_arcsec, 1)}″
              </span>
            )}
          </figcaption>
          {view?.star ? (
            <StarGrid star={view.star} />
          ) : (
            <p className={view ? "empty" : "loading"}>{view ? "Needs a telescope and a camera." : "…"}</p>
          )}
        </figure>
        <figure>
          <figcaption>Image circle over the sensor</figcaption>
          <CircleOverSensor evaluation={evaluation} rig={rig} />
        </figure>
        <div className="glass-settings">
          <label>
            Binning
            <InputNumber
              min={1}
              max={8}
              value={rig.binning ?? 1}
              onChange={(value) => value && commit((now) => ({ ...now, binning: value }), "binning changed")}
            />
          </label>
          <label>
            Sampling school
            <Select
              value={rig.practice?.sampling ?? "profile"}
              onChange={(value) =>
                commit(
                  (now) => ({
                    ...now,
                    practice: { sampling: value === "profile" ? null : (value as "comfort_band") },
                  }),
                  "sampling school changed",
                )
              }
              options={[
                { value: "profile", label: "as in the practice" },
                { value: "two_to_three_pixels", label: "two to three pixels" },
                { value: "comfort_band", label: "comfort band" },
                { value: "wide_field_accepts", label: "wide field accepts" },
              ]}
            />
          </label>
          <NumberField
            of="Rig.measured_focal_length_mm"
            label="Focal length from a solved frame"
            value={solved?.value ?? null}
            onChange={(value) =>
              commit(
                (now) => ({
                  ...now,
                  measured_focal_length_mm:
                    value === null
                      ? null
                      : { value, on: new Date().toISOString().slice(0, 10), instrument: "solved frame" },
                }),
                value === null ? "measured focal length cleared" : "focal length measured",
              )
            }
          />
        </div>
      </div>
      {view && view.options.length > 0 && (
        <section className="focal">
          <h2>Focal length with each corrector on the shelf</h2>
          <FocalSlider options={view.options} onChoose={choose} />
          <div className="table-scroll" tabIndex={0} role="region" aria-label="Correctors compared">
            <table data-testid="options" className="plain-table options">
              <thead>
                <tr>
                  <th scope="col">corrector</th>
                  <th scope="col">mm</th>
                  <th scope="col">f/</th>
                  <th scope="col">″/px</th>
                  <th scope="col">field</th>
                  <th scope="col">star px</th>
                  <th scope="col">signal</th>
                  <th scope="col" />
                </tr>
              </thead>
              <tbody>
                {view.options.map((option) => (
                  <tr
                    key={option.label}
                    className={`${option.in_use ? "in-use" : ""} ${option.suits ? "" : "unsuited"}`}
                  >
                    <th scope="row">
                      <Mark verdict={option.verdict} size={12} /> {option.label}
                      {option.remark && <span className="quiet"> {option.remark}</span>}
                    </th>
                    <td>{fixed(option.focal_length_mm, 0)}</td>
                    <td>{fixed(option.focal_ratio, 1)}</td>
                    <td>{fixed(option.pixel_scale, 2)}</td>
                    <td>
                      {fixed(option.field_width_deg, 2)}° × {fixed(option.field_height_deg, 2)}°
                    </td>
                    <td>{fixed(option.sampling_px, 1)}</td>
                    <td>×{fixed(option.per_pixel_gain, 2)}</td>
                    <td>
                      {option.in_use ? (
                        <span className="quiet">in use</span>
                      ) : (
                        <button
                          type="button"
                          className="link"
                          aria-label={`Lay ${option.label}`}
                          onClick={() => choose(option)}
                        >
                          {option.part_id ? "lay" : "take out"}
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="quiet">
            Signal is per pixel against no corrector. The aperture is the same: a reducer shows more sky per
            pixel, with less detail.
          </p>
        </section>
      )}
      {figures.length > 0 && (
        <details className="all-figures">
          <summary>All {figures.length} figures</summary>
          <div className="figure-grid">
            {figures.map((figure) => (
              <FigureValue key={figure.key} figure={figure} />
            ))}
          </div>
        </details>
      )}
    </div>
  );
}
