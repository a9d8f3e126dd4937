/** The Glass step: the star on the pixel grid, the image circle over the sensor, and every corrector compared. */

import { InputNumber, Select } from "antd";
import { useEffect, useState } from "react";
import { api, data } from "../../api/client";
import type { OpticsView, Option, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { FigureValue } from "../../kit/FigureValue";
import { Mark } from "../../kit/Mark";
import { NumberField } from "../../kit/NumberField";
import { fixed, plain } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { useLatest } from "../../kit/useLatest";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/optics";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { CircleOverSensor } from "./CircleOverSensor";
import { FocalSlider } from "./FocalSlider";
import { StarGrid } from "./StarGrid";
import "./optics.module.css";

export default function Optics({ rig, evaluation, commit, patch }: StepProps) {
  const [view, setView] = useState<OpticsView | null>(null);
  const ask = useLatest((given: Rig) => data(api.POST("/api/v1/optics", { body: { rig: given } })), setView);
  useEffect(() => {
    void ask(rig);
  }, [rig, ask]);
  const figures =
    evaluation?.figures.filter((figure) => !figure.subject && figure.key.startsWith("optics.")) ?? [];
  const choose = (option: Option) => {
    if (!option.in_use)
      patch(
        option.change,
        option.part_id ? phrase(terms.labelLaid, { label: option.label.text }) : terms.correctorTakenOut,
      );
  };
  const solved = rig.measured_focal_length_mm;
  return (
    <div data-testid="optics-step" className="glass-step">
      <div className="glass-pictures">
        <figure>
          <figcaption>
            {terms.starOnThePixelGrid}
            {view?.star && (
              <span className="quiet num">
                {" "}
                <Phrase
                  of={terms.fwhmPxPxFwhmArcsec}
                  with={{
                    fwhm_px: <Num of="OpticsStar.fwhm_px">{plain(view.star.fwhm_px, 1)}</Num>,
                    fwhm_arcsec: <Num of="OpticsStar.fwhm_arcsec">{plain(view.star.fwhm_arcsec, 1)}</Num>,
                  }}
                />
              </span>
            )}
          </figcaption>
          {view?.star ? (
            <StarGrid star={view.star} />
          ) : (
            <p className={view ? "empty" : "loading"}>{view ? terms.needsATelescopeAndACamera : "…"}</p>
          )}
        </figure>
        <figure>
          <figcaption>{terms.imageCircleOverTheSensor}</figcaption>
          <CircleOverSensor evaluation={evaluation} rig={rig} />
        </figure>
        <div className="glass-settings">
          <label>
            {terms.binning}
            <InputNumber
              min={1}
              max={8}
              value={rig.binning ?? 1}
              onChange={(value) =>
                value && commit((now) => ({ ...now, binning: value }), terms.binningChanged)
              }
            />
          </label>
          <label>
            {terms.samplingSchool}
            <Select
              value={rig.preferences?.sampling ?? "profile"}
              onChange={(value) =>
                commit(
                  (now) => ({
                    ...now,
                    preferences: { sampling: value === "profile" ? null : (value as "comfort_band") },
                  }),
                  terms.samplingSchoolChanged,
                )
              }
              options={[
                { value: "profile", label: terms.asInPreferences },
                { value: "two_to_three_pixels", label: terms.twoToThreePixels },
                { value: "comfort_band", label: terms.comfortBand },
                { value: "wide_field_accepts", label: terms.wideFieldAccepts },
              ]}
            />
          </label>
          <NumberField
            of="Rig.measured_focal_length_mm"
            label={terms.focalLengthFromASolvedFrame}
            value={solved?.value ?? null}
            onChange={(value) =>
              commit(
                (now) => ({
                  ...now,
                  measured_focal_length_mm:
                    value === null
                      ? null
                      : { value, on: new Date().toISOString().slice(0, 10), instrument: terms.solvedFrame },
                }),
                value === null ? terms.measuredFocalLengthCleared : terms.focalLengthMeasured,
              )
            }
          />
        </div>
      </div>
      {view && view.options.length > 0 && (
        <section className="focal">
          <h2>{terms.focalLengthWithEachCorrectorOn}</h2>
          <FocalSlider options={view.options} onChoose={choose} />
          <div className="table-scroll" tabIndex={0} role="region" aria-label={terms.correctorsCompared}>
            <table data-testid="options" className="plain-table options">
              <thead>
                <tr>
                  <th scope="col">{terms.corrector}</th>
                  <th scope="col">{common.mm}</th>
                  <th scope="col">f/</th>
                  <th scope="col">{terms.px}</th>
                  <th scope="col">{terms.field}</th>
                  <th scope="col">{terms.starPx}</th>
                  <th scope="col">{terms.signal}</th>
                  <th scope="col" />
                </tr>
              </thead>
              <tbody>
                {view.options.map((option) => (
                  <tr
                    key={option.label.text}
                    className={`${option.in_use ? "in-use" : ""} ${option.suits ? "" : "unsuited"}`}
                  >
                    <th scope="row">
                      <Mark verdict={option.verdict} size={12} /> <Says text={option.label} />
                      {option.remark.text && (
                        <span className="quiet">
                          {" "}
                          <Says text={option.remark} />
                        </span>
                      )}
                    </th>
                    <td>
                      <Num of="OpticsOption.focal_length_mm">{fixed(option.focal_length_mm, 0)}</Num>
                    </td>
                    <td>
                      <Num of="OpticsOption.focal_ratio">{fixed(option.focal_ratio, 1)}</Num>
                    </td>
                    <td>
                      <Num of="OpticsOption.pixel_scale">{fixed(option.pixel_scale, 2)}</Num>
                    </td>
                    <td>
                      <Num of="OpticsOption.field_width_deg">{fixed(option.field_width_deg, 2)}</Num>° ×{" "}
                      <Num of="OpticsOption.field_height_deg">{fixed(option.field_height_deg, 2)}</Num>°
                    </td>
                    <td>
                      <Num of="OpticsOption.sampling_px">{fixed(option.sampling_px, 1)}</Num>
                    </td>
                    <td>
                      ×<Num of="OpticsOption.per_pixel_gain">{fixed(option.per_pixel_gain, 2)}</Num>
                    </td>
                    <td>
                      {option.in_use ? (
                        <span className="quiet">{terms.inUse}</span>
                      ) : (
                        <button
                          type="button"
                          className="link"
                          aria-label={phrase(terms.layLabel, { label: option.label.text })}
                          onClick={() => choose(option)}
                        >
                          {option.part_id ? terms.lay : terms.takeOut}
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="quiet">{terms.signalIsPerPixelAgainstNo}</p>
        </section>
      )}
      {figures.length > 0 && (
        <details className="all-figures">
          <summary>
            <Phrase of={terms.allFiguresFigures} with={{ figures: figures.length }} />
          </summary>
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
