/** The off-axis branch: guide camera, helical, how far its nose is drawn, and where the prism stands. */

import { Button, Select, Slider } from "antd";
import { useState } from "react";
import type { Guide, PathItem, Rig, SpacingView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { fixed, plain } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { PartPicker } from "../../rig/PartPicker";
import { item } from "../../rig/path";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

interface Props {
  rig: Rig;
  view: SpacingView;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
  changeItem: (index: number, change: Partial<PathItem>, note: string) => void;
}

const METHODS: { value: NonNullable<Guide["method"]>; label: string }[] = [
  { value: "none", label: common.notGuided },
  { value: "off_axis", label: common.offAxisGuider },
];

export function GuidePanel({ rig, view, commit, changeItem }: Props) {
  const [picking, setPicking] = useState(false);
  const guide = rig.guide ?? {};
  const branch = view.branch;
  const set = (change: Partial<Guide>, note: string) =>
    commit((now) => ({ ...now, guide: { ...(now.guide ?? {}), ...change } }), note);
  const place = (rig.path ?? []).findIndex((entry) => entry.part.kind === "off_axis_guider");
  const entry = rig.path?.[place];
  const guider = entry?.part.kind === "off_axis_guider" ? entry.part : null;
  const error = branch ? branch.actual_mm - branch.required_mm : 0;
  return (
    <section className="guide-panel" aria-label={terms.guideBranch}>
      <div className="part-fields">
        <label className="stacked">
          {terms.guiding}
          <Select
            value={guide.method ?? "none"}
            options={METHODS.concat(
              guide.method === "guide_scope" ? [{ value: "guide_scope", label: common.guideScope }] : [],
            )}
            onChange={(method) => set({ method }, terms.guidingChanged)}
          />
        </label>
        <span className="stacked">
          {terms.guideCamera}
          <Button onClick={() => setPicking(true)}>
            {guide.branch?.find((one) => one.part.kind === "camera")?.part.name ?? terms.chooseOne}
          </Button>
        </span>
        {branch && (
          <p className="num">
            <Mark
              verdict={Math.abs(error) <= branch.tolerance_mm ? "ok" : branch.setting ? "warning" : "problem"}
              size={12}
            />{" "}
            <Phrase
              of={terms.actualMmMmOnTheBranch}
              with={{
                actual_mm: <Num of="GuideBranch.actual_mm">{fixed(branch.actual_mm, 1)}</Num>,
                required_mm: <Num of="GuideBranch.required_mm">{fixed(branch.required_mm, 1)}</Num>,
                which: (
                  <Num of="GuideBranch.actual_mm">
                    {Math.abs(error) < 0.05
                      ? terms.inFocus
                      : `${error > 0 ? "+" : "−"}${fixed(Math.abs(error), 1)}`}
                  </Num>
                ),
              }}
            />
          </p>
        )}
        {!branch && guide.method === "off_axis" && (
          <p className="quiet">
            <Phrase
              of={terms.thereIsBranchWhyNot}
              with={{ branch_why_not: <Says text={view.branch_why_not} /> }}
            />
          </p>
        )}
      </div>
      {branch && (
        <div className="part-fields">
          <label className="stacked">
            <Phrase
              of={terms.helicalHelicalMmMmOut}
              with={{
                helical_mm: (
                  <Num of="GuideBranch.helical_mm" still>
                    {plain(branch.helical_mm)}
                  </Num>
                ),
              }}
            />
            <Slider
              min={0}
              max={branch.helical_range_mm}
              step={0.1}
              value={branch.helical_mm}
              ariaLabelForHandle={terms.helical}
              onChange={(helical_mm) => set({ helical_mm }, terms.helicalTurned)}
            />
          </label>
          <label className="stacked">
            <Phrase
              of={terms.noseDrawnDrawnOutMmMm}
              with={{
                drawn_out_mm: (
                  <Num of="GuideBranch.drawn_out_mm" still>
                    {plain(branch.drawn_out_mm)}
                  </Num>
                ),
              }}
            />
            <Slider
              min={0}
              max={Math.max(branch.draw_range_mm, 0.1)}
              step={0.1}
              value={branch.drawn_out_mm}
              ariaLabelForHandle={terms.noseDrawnOut}
              onChange={(drawn_out_mm) => set({ drawn_out_mm }, terms.guideCameraDrawn)}
            />
          </label>
          {branch.setting && Math.abs(error) > 0.05 && (
            <Button
              type="primary"
              onClick={() =>
                branch.setting &&
                set(
                  { helical_mm: branch.setting[0], drawn_out_mm: branch.setting[1] },
                  terms.guideCameraBroughtToFocus,
                )
              }
            >
              {terms.bringToFocus}
            </Button>
          )}
        </div>
      )}
      {guider && entry && (
        <div className="part-fields">
          <label className="stacked">
            <Phrase
              of={terms.prismPrismInMmMmIn}
              with={{
                prism_in_mm: (
                  <Num of="PathItem.prism_in_mm" still>
                    {plain(entry.prism_in_mm ?? 0)}
                  </Num>
                ),
              }}
            />
            <Slider
              min={0}
              max={Math.max(guider.prism.reach_mm ?? 0, 0.1)}
              step={0.1}
              value={entry.prism_in_mm ?? 0}
              ariaLabelForHandle={terms.prism}
              onChange={(prism_in_mm) => changeItem(place, { prism_in_mm }, terms.prismMoved)}
            />
          </label>
          <label className="stacked">
            {terms.prismStandsAtThe}
            <Select
              value={entry.faces_deg ?? 0}
              options={[
                { value: 0, label: terms.longSideTop },
                { value: 90, label: terms.shortSideRight },
                { value: 180, label: terms.longSideFoot },
                { value: 270, label: terms.shortSideLeft },
              ]}
              onChange={(faces_deg: number) => changeItem(place, { faces_deg }, terms.guiderTurned)}
            />
          </label>
        </div>
      )}
      {picking && (
        <PartPicker
          title={terms.guideCamera}
          kinds={["camera"]}
          close={() => setPicking(false)}
          onPick={(part) => {
            if (part.kind === "camera") {
              const rest = (guide.branch ?? []).filter((one) => one.part.kind !== "camera");
              set(
                { branch: [...rest, item(part)], drawn_out_mm: 0, helical_mm: 0 },
                phrase(terms.partOnTheGuidePort, { part: part.name }),
              );
            }
            setPicking(false);
          }}
        />
      )}
    </section>
  );
}
