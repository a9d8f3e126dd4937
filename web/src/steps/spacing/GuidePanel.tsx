/** The off-axis branch: guide camera, helical, how far its nose is drawn, and where the prism stands. */
import { Button, Select, Slider } from "antd";
import { useState } from "react";
import type { Guide, PathItem, Rig, SpacingView } from "../../api/types";
import { Mark } from "../../kit/Mark";
import { fixed, plain } from "../../kit/quantity";
import { PartPicker } from "../../rig/PartPicker";
import { item } from "../../rig/path";

interface Props {
  rig: Rig;
  view: SpacingView;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
  changeItem: (index: number, change: Partial<PathItem>, note: string) => void;
}

const METHODS: { value: NonNullable<Guide["method"]>; label: string }[] = [
  { value: "none", label: "not guided" },
  { value: "off_axis", label: "off-axis guider" },
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
    <section className="guide-panel" aria-label="Guide branch">
      <div className="part-fields">
        <label className="stacked">
          Guiding
          <Select
            value={guide.method ?? "none"}
            options={METHODS.concat(
              guide.method === "guide_scope" ? [{ value: "guide_scope", label: "guide scope" }] : [],
            )}
            onChange={(method) => set({ method }, "guiding changed")}
          />
        </label>
        <span className="stacked">
          Guide camera
          <Button onClick={() => setPicking(true)}>
            {guide.branch?.find((one) => one.part.kind === "camera")?.part.name ?? "choose one"}
          </Button>
        </span>
        {branch && (
          <p className="num">
            <Mark
              verdict={
                Math.abs(error) <= branch.tolerance_mm ? "holds" : branch.setting ? "strains" : "breaks"
              }
              size={12}
            />{" "}
            {fixed(branch.actual_mm, 1)} mm on the branch, {fixed(branch.required_mm, 1)} to the main sensor (
            {Math.abs(error) < 0.05 ? "in focus" : `${error > 0 ? "+" : "−"}${fixed(Math.abs(error), 1)}`})
          </p>
        )}
        {!branch && guide.method === "off_axis" && <p className="quiet">There is {view.branch_why_not}.</p>}
      </div>
      {branch && (
        <div className="part-fields">
          <label className="stacked">
            Helical {plain(branch.helical_mm)} mm out
            <Slider
              min={0}
              max={branch.helical_range_mm}
              step={0.1}
              value={branch.helical_mm}
              ariaLabelForHandle="Helical"
              onChange={(helical_mm) => set({ helical_mm }, "helical turned")}
            />
          </label>
          <label className="stacked">
            Nose drawn {plain(branch.drawn_out_mm)} mm out: mark it
            <Slider
              min={0}
              max={Math.max(branch.draw_range_mm, 0.1)}
              step={0.1}
              value={branch.drawn_out_mm}
              ariaLabelForHandle="Nose drawn out"
              onChange={(drawn_out_mm) => set({ drawn_out_mm }, "guide camera drawn")}
            />
          </label>
          {branch.setting && Math.abs(error) > 0.05 && (
            <Button
              type="primary"
              onClick={() =>
                branch.setting &&
                set(
                  { helical_mm: branch.setting[0], drawn_out_mm: branch.setting[1] },
                  "guide camera brought to focus",
                )
              }
            >
              Bring to focus
            </Button>
          )}
        </div>
      )}
      {guider && entry && (
        <div className="part-fields">
          <label className="stacked">
            Prism {plain(entry.prism_in_mm ?? 0)} mm in
            <Slider
              min={0}
              max={Math.max(guider.prism.reach_mm ?? 0, 0.1)}
              step={0.1}
              value={entry.prism_in_mm ?? 0}
              ariaLabelForHandle="Prism"
              onChange={(prism_in_mm) => changeItem(place, { prism_in_mm }, "prism moved")}
            />
          </label>
          <label className="stacked">
            Prism stands at the
            <Select
              value={entry.faces_deg ?? 0}
              options={[
                { value: 0, label: "long side, top" },
                { value: 90, label: "short side, right" },
                { value: 180, label: "long side, foot" },
                { value: 270, label: "short side, left" },
              ]}
              onChange={(faces_deg: number) => changeItem(place, { faces_deg }, "guider turned")}
            />
          </label>
        </div>
      )}
      {picking && (
        <PartPicker
          title="Guide camera"
          kinds={["camera"]}
          close={() => setPicking(false)}
          onPick={(part) => {
            if (part.kind === "camera") {
              const rest = (guide.branch ?? []).filter((one) => one.part.kind !== "camera");
              set(
                { branch: [...rest, item(part)], drawn_out_mm: 0, helical_mm: 0 },
                `${part.name} on the guide port`,
              );
            }
            setPicking(false);
          }}
        />
      )}
    </section>
  );
}
