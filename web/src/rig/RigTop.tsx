/** Above every step: the light path to scale, the six numbers everybody asks for, and what is done with the rig as a whole. */

import { Button, Input, Select } from "antd";
import { type ReactNode, useState } from "react";
import type { EvaluationAnswer, Part, Rig } from "../api/types";
import { onDevice } from "../kept/keeping";
import { FigureValue } from "../kit/FigureValue";
import { fixed } from "../kit/quantity";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import { GEAR_KINDS } from "./gear";
import { LightStrip } from "./LightStrip";
import type { RigInHand } from "./useRig";

const BIG: [key: string, label: string][] = [
  ["optics.focal_length_mm", common.focalLength],
  ["optics.focal_ratio", terms.focalRatio],
  ["optics.pixel_scale_arcsec_px", terms.pixelScale],
  ["optics.field_width_deg", terms.fieldOfView],
  ["optics.sampling_px", terms.sampling],
  ["optics.depth_of_focus_um", terms.depthOfFocus],
];
export const ALL_KINDS: Part["kind"][] = [
  "telescope",
  "focuser",
  "corrector",
  "adapter",
  "filter_holder",
  "filter",
  "off_axis_guider",
  "camera",
  ...GEAR_KINDS,
];
const PINNED = "strip-pinned";

interface Props {
  hand: RigInHand;
  rig: Rig;
  answer: EvaluationAnswer | null;
  large: boolean;
  chosen: number | null;
  choose: (index: number) => void;
  move: (index: number, by: number) => void;
  lay: (kinds: Part["kind"][]) => void;
  undo: () => void;
  redo: () => void;
  costs: () => void;
  improve: () => void;
  archive: () => void;
}

export function RigTop(props: Props) {
  const { hand, rig, answer, choose, move, chosen, lay } = props;
  const [pinned, setPinned] = useState(() => onDevice.read(PINNED) === "yes");
  const [unfolded, setUnfolded] = useState(false); // on a phone
  const [near, setNear] = useState(false);
  const path = rig.path ?? [];
  const has = (kind: Part["kind"]) => path.some((entry) => entry.part.kind === kind);
  const bare = path.some((entry) => entry.part.kind === "telescope" && entry.part.needs_corrector);
  const lacking = !has("telescope") || !has("camera") || (bare && !has("corrector"));
  const slim = !props.large && !pinned && !lacking;
  const pin = () => {
    onDevice.write(PINNED, pinned ? "no" : "yes");
    setPinned(!pinned);
  };
  const figures = answer?.evaluation.figures ?? [];
  const height = figures.find((figure) => figure.key === "optics.field_height_deg");
  const strip = (how: boolean, covered = false) =>
    answer && (
      <LightStrip
        slim={how}
        covered={covered}
        strip={answer.strip}
        chosen={chosen}
        onChoose={choose}
        onMove={move}
      />
    );
  return (
    <section
      className={`strip-panel ${slim ? "slim" : ""} ${unfolded || lacking ? "opened" : ""}`}
      data-tour="strip"
    >
      <RigHead hand={hand} rig={rig}>
        <Button size="small" className="fold" aria-expanded={unfolded} onClick={() => setUnfolded(!unfolded)}>
          {unfolded ? terms.fold : terms.stripAndNumbers}
        </Button>
        <Button size="small" onClick={() => lay(ALL_KINDS)}>
          {terms.layAPart2}
        </Button>
        <Button size="small" disabled={!hand.canUndo} onClick={props.undo}>
          {terms.undo}
        </Button>
        <Button size="small" disabled={!hand.canRedo} onClick={props.redo}>
          {terms.redo}
        </Button>
        <Button size="small" onClick={props.costs}>
          {terms.cost}
        </Button>
        <Button size="small" onClick={props.improve}>
          {terms.improve}
        </Button>
        <Button size="small" href={`/api/v1/rigs/${hand.kept?.id}/file`} download>
          {terms.export}
        </Button>
        <Button size="small" onClick={props.archive}>
          {common.putAway3}
        </Button>
      </RigHead>
      <div
        className="strip-side"
        onPointerLeave={() => setNear(false)}
        onPointerEnter={(event) => event.pointerType === "mouse" && setNear(true)}
      >
        {answer && path.length > 0 ? (
          strip(slim, slim && near)
        ) : (
          <p className="empty strip-empty">{path.length === 0 ? terms.anEmptyPathLightComesIn : "…"}</p>
        )}
        {slim && near && (
          <div className="strip-grown" data-testid="strip-grown">
            {strip(false)}
            <button type="button" className="pin" aria-pressed={false} onClick={pin}>
              {terms.keepTheStripLarge}
            </button>
          </div>
        )}
        {!props.large && pinned && (
          <button type="button" className="pin" aria-pressed={true} onClick={pin}>
            {terms.letTheStripShrink}
          </button>
        )}
        {lacking && (
          <div className="strip-tools">
            {!has("telescope") && (
              <Button type="primary" onClick={() => lay(["telescope"])}>
                {terms.chooseATelescopeOrLens}
              </Button>
            )}
            {bare && !has("corrector") && (
              <Button onClick={() => lay(["corrector"])}>{terms.chooseACorrector}</Button>
            )}
            {!has("camera") && (
              <Button type={has("telescope") ? "primary" : "default"} onClick={() => lay(["camera"])}>
                {terms.chooseACamera}
              </Button>
            )}
          </div>
        )}
      </div>
      <div data-testid="big-numbers" className="big-numbers" data-tour="numbers">
        {BIG.map(([key, label]) => {
          const figure = figures.find((entry) => entry.key === key);
          if (!figure)
            return (
              <NotYet
                key={key}
                label={label}
                because={answer?.evaluation.missing.find((gap) => gap.key === key)?.because?.text}
              />
            );
          const both =
            key === "optics.field_width_deg" && height ? ` × ${fixed(height.value, 2)}` : undefined;
          return <FigureValue key={key} figure={figure} label={label} extra={both} />;
        })}
      </div>
    </section>
  );
}

const PURPOSES = ["wide_field", "nebula", "galaxy", "cluster", "planetary", "untracked"] as const;

function RigHead({ hand, rig, children }: { hand: RigInHand; rig: Rig; children: ReactNode }) {
  const [name, setName] = useState<string | null>(null);
  const keep = () => {
    const wanted = (name ?? "").trim();
    if (name !== null && wanted && wanted !== rig.name) hand.commit({ name: wanted }, "renamed");
    setName(null);
  };
  const saved = hand.kept ? new Date(hand.kept.saved_at) : null;
  return (
    <div className="rig-head">
      <h1>
        <Input
          variant="borderless"
          aria-label={terms.nameOfTheRig}
          value={name ?? rig.name}
          maxLength={120}
          style={{ width: `${Math.min(42, Math.max(5, (name ?? rig.name).length + 2))}ch` }}
          onChange={(event) => setName(event.target.value)}
          onBlur={keep}
          onPressEnter={(event) => event.currentTarget.blur()}
        />
      </h1>
      <Select
        mode="multiple"
        variant="borderless"
        aria-label={terms.purposes}
        placeholder={terms.whatIsItFor}
        className="purposes"
        maxTagCount={3}
        value={[...(rig.purposes ?? [])]}
        options={PURPOSES.map((purpose) => ({ value: purpose, label: purpose.replace("_", " ") }))}
        onChange={(purposes) => hand.commit({ purposes }, terms.purposesChanged)}
      />
      <span
        data-testid="saved"
        data-revision={hand.state.is === "saved" ? hand.kept?.revision : undefined}
        className="quiet saved"
        role="status"
      >
        {hand.state.is === "saving"
          ? terms.saving
          : phrase(terms.afterRevisionRevisionSavedSaved, {
              after: hand.state.is === "saved" && hand.state.after ? `${terms[hand.state.after]} · ` : "",
              revision: hand.kept?.revision,
              saved: saved?.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" }),
            })}
      </span>
      <div className="rig-tools">{children}</div>
    </div>
  );
}

function NotYet({ label, because }: { label: string; because: string | undefined }) {
  return (
    <span data-testid="figure" className="figure" title={because}>
      <span data-testid="figure-value" className="figure-value quiet">
        —
      </span>
      <span className="figure-label">{label}</span>
    </span>
  );
}
