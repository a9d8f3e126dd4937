/** The Spacing step: the train on its rule, what fits, which rings make it right, light on the sensor, guide branch. */
import { Button, Segmented } from "antd";
import { useCallback, useState } from "react";
import type { PathItem } from "../../api/types";
import { useKeys } from "../../app/keys";
import { Says } from "../../kit/Says";
import { Sheet } from "../../kit/Sheet";
import { useShelf } from "../../rig/PartPicker";
import { inTheLight, item, movedItem } from "../../rig/path";
import { terms as common } from "../../terms/common";
import { phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";
import type { StepProps } from "../step";
import { FindRings } from "./FindRings";
import { FitsHere } from "./FitsHere";
import { GuidePanel } from "./GuidePanel";
import { LightPicture } from "./LightPicture";
import { Numbers } from "./Numbers";
import { ThisPart } from "./ThisPart";
import { Tilts } from "./Tilts";
import { Together } from "./Together";
import { type Marked, TrainRule } from "./TrainRule";
import { useSpacing } from "./useSpacing";
import "./spacing.module.css";

type Panel = "fits" | "rings" | "part" | "guide" | "together";
const PANELS: { value: Panel; label: string }[] = [
  { value: "rings", label: terms.findRings },
  { value: "fits", label: common.whatFits },
  { value: "part", label: terms.thisPart },
  { value: "guide", label: terms.guideBranch },
  { value: "together", label: terms.assemblies },
];

export default function Spacing({ rigId, rig, changePath, commit, patch, evaluation }: StepProps) {
  const { view, fault } = useSpacing(rig);
  const shelf = useShelf();
  const [marked, setMarked] = useState<Marked>(null);
  const [sheet, setSheet] = useState(false);
  const [panel, setPanel] = useState<Panel>("rings");
  const path = [...(rig.path ?? [])];

  const changeItem = useCallback(
    (index: number, change: Partial<PathItem>, note: string) =>
      commit(
        (now) => ({
          ...now,
          path: (now.path ?? []).map((entry, i) => (i === index ? { ...entry, ...change } : entry)),
        }),
        note,
      ),
    [commit],
  );

  useKeys("Spacing", [{ key: "r", does: terms.findRings2, run: () => setPanel("rings") }]);

  if (!view) return <p className={fault ? "fault" : "loading"}>{fault || terms.layingItOnTheRule}</p>;
  if (view.blocks.length === 0) return <p className="empty">{terms.nothingToSpaceYetLayA}</p>;

  const mark = (next: Marked) => {
    setMarked(next);
    if (next && (panel === "rings" || next.joint)) setPanel(next.joint ? "fits" : "part");
  };
  const take = (index: number) => {
    changePath(
      path.filter((_, i) => i !== index),
      phrase(common.partTakenOut, { part: path[index]?.part.name }),
    );
    setMarked(null);
  };
  const lay = (index: number, partId: string, replace: boolean) => {
    const found = shelf.data?.find((entry) => entry.id === partId)?.body;
    if (!found || !inTheLight(found)) return;
    const next = [...path];
    next.splice(index, replace ? 1 : 0, item(found));
    changePath(next, phrase(terms.foundLaid, { found: found.name }));
    setMarked({ index, joint: false });
  };
  const usable = marked && path[marked.index] ? marked : null;

  return (
    <div className="spacing-step">
      <header className="step-head">
        <h2>{terms.spacing}</h2>
        <span className="button-row">
          <Button size="small" onClick={() => setSheet(true)}>
            {terms.spacingSheet}
          </Button>
        </span>
      </header>
      {sheet && (
        <Sheet
          title={terms.spacingSheet}
          svg={`/api/v1/rigs/${rigId}/spacing-sheet.svg`}
          pdf={`/api/v1/rigs/${rigId}/spacing-sheet.pdf`}
          close={() => setSheet(false)}
        />
      )}
      <div className="train-scroll">
        <TrainRule
          view={view}
          marked={usable}
          onMark={mark}
          onMove={(index, to) => {
            changePath(
              movedItem(path, index, to),
              phrase(common.partMoved, { part: path[index]?.part.name }),
            );
            setMarked({ index: to, joint: false });
          }}
          onNudge={(index, by) => {
            const block = view.blocks.find((one) => one.index === index);
            if (block?.lowest_mm == null || block.highest_mm == null) return;
            const now = path[index]?.set_length_mm ?? block.lowest_mm;
            const to = Math.min(
              block.highest_mm,
              Math.max(block.lowest_mm, Math.round((now + by) * 100) / 100),
            );
            changeItem(index, { set_length_mm: to }, phrase(terms.blockSetToTo, { block: block.name, to }));
          }}
          onTake={take}
          onDrop={(joint, partId) => lay(joint, partId, false)}
          onTray={() => setPanel("fits")}
        />
      </div>
      {view.why_not.text && (
        <p className="quiet">
          <Says text={view.why_not} />
        </p>
      )}
      {view.mirror_words.text && (
        <p className="quiet">
          <Says text={view.mirror_words} />.
        </p>
      )}
      <Numbers view={view} evaluation={evaluation} />
      <div className="spacing-below">
        <div className="spacing-panel">
          <Segmented
            data-testid="panel-choice"
            className="panel-choice"
            value={panel}
            onChange={setPanel}
            options={PANELS}
          />
          {panel === "rings" && (
            <FindRings key={path.map((entry) => entry.part.id).join()} rig={rig} patch={patch} />
          )}
          {panel === "fits" &&
            (usable && usable.index > 0 ? (
              <FitsHere
                rig={rig}
                marked={usable}
                onLay={(part) => part.part_id && lay(usable.index, part.part_id, !usable.joint)}
              />
            ) : (
              <p className="quiet">{terms.chooseAJointOnTheRule}</p>
            ))}
          {panel === "part" && (
            <ThisPart
              rigId={rigId}
              key={usable?.index ?? -1}
              rig={rig}
              view={view}
              index={usable?.index ?? -1}
              changeItem={changeItem}
              commit={commit}
              patch={patch}
              onTake={take}
            />
          )}
          {panel === "guide" && <GuidePanel rig={rig} view={view} commit={commit} changeItem={changeItem} />}
          {panel === "together" && <Together rigId={rigId} rig={rig} view={view} changePath={changePath} />}
        </div>
        <div>
          {view.light && <LightPicture light={view.light} />}
          <Tilts tilts={view.tilts} side={view.side_focus} />
        </div>
      </div>
    </div>
  );
}
