/** The Guide step: every method side by side, the error budget against the pixel, the patch of sky that is seen. */

import { Button } from "antd";
import { useState } from "react";
import { api, dataAs } from "../../api/client";
import type { GuidePatchView, GuidingView, Part, PatchOperation, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { figureOf, Worked } from "../../kit/FigureValue";
import { NumberField } from "../../kit/NumberField";
import { fixed, plain, share } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { changes } from "../../rig/Findings";
import { withGuideCamera } from "../../rig/gear";
import { PartPicker } from "../../rig/PartPicker";
import { useDrawn } from "../../rig/useDrawn";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/guiding";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { ErrorBars } from "./ErrorBars";
import { GuidePatch } from "./GuidePatch";
import "./guiding.module.css";

type Method = GuidingView["methods"][number];

const ROWS: [label: string, field: keyof Method, told: (method: Method) => string | null, figure?: string][] =
  [
    [
      terms.guideScale,
      "scale",
      (m) => (m.scale == null ? null : `${fixed(m.scale, 2)}″/px`),
      "guiding.scale_arcsec_px",
    ],
    [
      terms.againstTheImage,
      "ratio",
      (m) => (m.ratio == null ? null : `${fixed(m.ratio, 1)}×`),
      "guiding.scale_ratio",
    ],
    [
      "flexure",
      "flexure_arcsec_h",
      (m) => (m.flexure_arcsec_h == null ? null : `${fixed(m.flexure_arcsec_h, 1)}″/h`),
      "guiding.flexure_arcsec_h",
    ],
    [
      terms.seesToMagnitude,
      "limiting_mag",
      (m) => (m.limiting_mag == null ? null : fixed(m.limiting_mag, 1)),
      "guiding.limiting_mag",
    ],
    [
      terms.guideCameraFov,
      "patch_arcmin",
      (m) =>
        m.patch_arcmin == null ? null : `${fixed(m.patch_arcmin[0], 0)}′ × ${fixed(m.patch_arcmin[1], 0)}′`,
    ],
    [
      terms.starsExpected,
      "stars_expected",
      (m) => (m.stars_expected == null ? null : fixed(m.stars_expected, m.stars_expected < 20 ? 1 : 0)),
      "guiding.stars_expected",
    ],
    [
      terms.chanceOfNone,
      "chance_of_none",
      (m) => (m.chance_of_none == null ? null : share(m.chance_of_none)),
      "guiding.chance_of_none",
    ],
    [
      "centroid",
      "centroid_arcsec",
      (m) => (m.centroid_arcsec == null ? null : `${fixed(m.centroid_arcsec, 2)}″`),
    ],
    [
      terms.errorRms,
      "rms_arcsec",
      (m) => (m.rms_arcsec == null ? null : `${fixed(m.rms_arcsec, 2)}″`),
      "guiding.rms_arcsec",
    ],
    [
      terms.inPixels,
      "rms_px",
      (m) => (m.rms_px == null ? null : `${fixed(m.rms_px, 2)} px`),
      "guiding.rms_px",
    ],
    [terms.longestSub, "longest_words", (m) => m.longest_words.text || null, "longest"],
  ];

/** The figure behind a number of the way the rig is guided now. */
const aboutGuiding = (one: PatchOperation) => one.path.startsWith("/guide/method");
const keyOf = (key: string, method: Method) =>
  key !== "longest" ? key : method.method === "none" ? "guiding.unguided_limit_s" : "guiding.guided_limit_s";

export default function Guiding({ rig, commit, evaluation, onFix, target }: StepProps) {
  const [picking, setPicking] = useState(false);
  const { view, fault } = useDrawn(rig, (given) =>
    dataAs<GuidingView>(api.POST("/api/v1/guiding", { body: { rig: given } })),
  );
  const { view: patch } = useDrawn(
    rig,
    (given) =>
      dataAs<GuidePatchView | null>(api.POST("/api/v1/guiding/patch", { body: { rig: given, target } })),
    target,
  );
  const guide = rig.guide ?? {};
  const set = (change: Partial<NonNullable<Rig["guide"]>>, note: string) =>
    commit((now) => ({ ...now, guide: { ...(now.guide ?? {}), ...change } }), note);
  const camera = guide.branch?.find((item) => item.part.kind === "camera")?.part;
  // Switching is a fix the server worked out: rings, branch and riders go with it.
  const switches = (evaluation?.findings ?? [])
    .flatMap((finding) => (finding.fixes ?? []).map((fix) => ({ finding, fix })))
    .filter(({ finding, fix }) => finding.step === "guiding" || fix.change.some(aboutGuiding))
    .filter(({ fix }, i, all) => all.findIndex((other) => other.fix.label.text === fix.label.text) === i);
  const foot = view && (
    <div data-testid="guiding-foot" className="guide-foot">
      <div>
        {view.polar_tolerance_arcmin != null && (
          <p>
            <Phrase
              of={terms.strongOfPolarErrorKeepEvery}
              with={{
                strong: (
                  <strong className="num">
                    <Worked figure={figureOf(evaluation, "guiding.polar_tolerance_arcmin")}>
                      <Says text={view.polar_words} still />
                    </Worked>
                  </strong>
                ),
                limit: <Num of="guiding.polar_tolerance_arcmin">1 px</Num>,
                sub_s: <Num of="GuidingView.sub_s">{plain(view.sub_s)}</Num>,
                polar_error_arcmin: view.polar_error_arcmin,
              }}
            />
          </p>
        )}
        {view.uncorrected.text && (
          <p data-testid="uncorrected">
            <Says text={view.uncorrected} />
          </p>
        )}
        {view.without.text && (
          <p>
            <Says text={view.without} />
          </p>
        )}
        {switches.length > 0 && (
          <div data-testid="fixes" className="fixes">
            {switches.slice(0, 6).map(({ finding, fix }) => (
              <Button
                key={fix.label.text}
                data-testid="fix"
                data-change={changes(fix)}
                onClick={() => onFix(finding, fix)}
              >
                <Says text={fix.label} still />
              </Button>
            ))}
          </div>
        )}
      </div>
    </div>
  );
  return (
    <div className="guide-step">
      <div className="gear-line">
        <NumberField
          of="Guide.sub_s"
          value={guide.sub_s ?? 180}
          onChange={(value) => set({ sub_s: value ?? 180 }, common.subPlanned)}
        />
        <NumberField
          of="Guide.exposure_s"
          value={guide.exposure_s ?? 2}
          onChange={(value) => set({ exposure_s: value ?? 2 }, terms.guideExposureSet)}
        />
        <Button size="small" onClick={() => setPicking(true)}>
          {camera ? camera.name : terms.chooseAGuideCamera}
        </Button>
        {guide.method !== "none" && (
          <Button size="small" onClick={() => set({ method: "none" }, common.notGuided)}>
            {terms.doNotGuide}
          </Button>
        )}
        {guide.method !== "guide_scope" &&
          (rig.riders ?? []).some((r) => r.part.kind === "guide_scope") &&
          camera && (
            <Button size="small" onClick={() => set({ method: "guide_scope" }, terms.guidedByTheScope)}>
              {terms.guideThroughTheScope}
            </Button>
          )}
        {guide.method !== "off_axis" && (
          <Button size="small" onClick={() => set({ method: "off_axis" }, terms.guidedOffAxis)}>
            {terms.guideOffAxis}
          </Button>
        )}
      </div>
      {fault && <p className="fault">{fault}</p>}
      {view && view.methods.length > 0 && (
        <div className="guide-body">
          <div>
            <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.waysToGuide}>
              <table data-testid="plain-table" className="plain-table methods">
                <thead>
                  <tr>
                    <th scope="col">
                      <span className="visually-hidden">{common.figure}</span>
                    </th>
                    {view.methods.map((method) => (
                      <th key={method.method} scope="col" className={method.now ? "now" : ""}>
                        <Says text={method.title} />
                        {method.because.text && (
                          <span className="quiet">
                            {" "}
                            <Says text={method.because} />
                          </span>
                        )}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {ROWS.map(([label, field, told, key]) => (
                    <tr key={label}>
                      <th scope="row">{label}</th>
                      {view.methods.map((method) => (
                        <td key={method.method} className={`num ${method.now ? "now" : ""}`}>
                          <Num of={method.now && key ? keyOf(key, method) : `GuideMethod.${field}`}>
                            {told(method) ?? "—"}
                          </Num>
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            <div className="guide-under">
              {patch && <GuidePatch patch={patch} />}
              {foot}
            </div>
          </div>
          <ErrorBars view={view} />
        </div>
      )}
      {view && view.methods.length === 0 && foot}
      {picking && (
        <PartPicker
          title={terms.chooseAGuideCamera}
          kinds={["camera"]}
          close={() => setPicking(false)}
          onPick={(part: Part) => {
            if (part.kind === "camera")
              commit(
                (now) => ({ ...now, ...withGuideCamera(now, part) }),
                phrase(terms.partGuides, { part: part.name }),
              );
            setPicking(false);
          }}
        />
      )}
    </div>
  );
}
