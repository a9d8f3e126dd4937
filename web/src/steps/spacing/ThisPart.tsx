/** The marked part: what it measures, how it is set, which way it faces, and what can take its place. */

import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Checkbox, Select, Slider } from "antd";
import { useState } from "react";
import { api, data, words } from "../../api/client";
import type { Part, PatchOperation, PathItem, PathPart, Rig, SpacingView, TrainBlock } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { NumberField } from "../../kit/NumberField";
import { QuantityInput } from "../../kit/QuantityInput";
import { plain } from "../../kit/quantity";
import { SwapButton } from "../../rig/SwapButton";
import { useTouches } from "../../rig/useTouches";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

interface Props {
  rigId: string;
  rig: Rig;
  view: SpacingView;
  index: number;
  changeItem: (index: number, change: Partial<PathItem>, note: string) => void;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
  patch: (change: PatchOperation[], note: string) => void;
  onTake: (index: number) => void;
}

const FACES = [
  { value: -1, label: terms.notSaid },
  { value: 0, label: terms.up },
  { value: 90, label: terms.right },
  { value: 180, label: terms.down },
  { value: 270, label: terms.left },
];

const lengthField = (part: PathPart) =>
  part.kind === "camera" ? "flange_to_sensor_mm" : "optical_length_mm";

export function ThisPart({ rigId, rig, view, index, changeItem, commit, patch, onTake }: Props) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const touches = useTouches();
  const [asked, setAsked] = useState(0);
  const entry = rig.path?.[index];
  const block = view.blocks.find((one) => one.index === index);
  if (!entry || !block) return <p className="quiet">{terms.markAPartOnTheRule}</p>;
  const part = entry.part;
  const field = lengthField(part);
  const reading = part.measured?.[field];
  const ring = part.kind === "camera" ? part.front_ring : null;

  async function measure(value: number | null) {
    const { [field]: _old, ...rest } = part.measured ?? {};
    const measured =
      value === null
        ? rest
        : { ...rest, [field]: { value, instrument: "callipers", on: new Date().toISOString().slice(0, 10) } };
    const here = () =>
      changeItem(
        index,
        { part: { ...part, measured } as PathPart },
        phrase(terms.partMeasured, { part: part.name }),
      );
    if (!part.id) return here();
    try {
      // The reading belongs to the part: the shelf keeps it, and every rig that uses the part feels it.
      const params = { path: { entry_id: part.id } };
      const kept = await data(api.GET("/api/v1/parts/{entry_id}", { params }));
      const body = { ...kept.body, measured } as Part;
      const touched = await data(api.POST("/api/v1/parts/{entry_id}/touches", { params, body }));
      const agreed = await touches(
        touched,
        rigId,
        phrase(terms.thisReadingOfThePart, { part: part.name }),
        terms.keepTheReading,
      );
      if (agreed === false) setAsked((n) => n + 1);
      if (!agreed) return;
      here();
      await data(api.PUT("/api/v1/parts/{entry_id}", { params, body: { base: kept.version, body } }));
      await client.invalidateQueries({ queryKey: ["parts"] });
    } catch (error) {
      here();
      notification.warning({
        message: terms.keptInThisRigOnly,
        description: phrase(terms.theShelfDidNotTakeThe, { error: words(error) }),
      });
    }
  }

  return (
    <section className="this-part" aria-label={terms.markedPart}>
      <div className="part-facts">
        <strong>{part.name}</strong>
        <span className="quiet num">
          <Num of="TrainBlock.nominal_mm">
            {block.nominal_mm == null
              ? terms.noLengthGiven
              : phrase(terms.nominalMmMmByItsMaker, { nominal_mm: plain(block.nominal_mm) })}
          </Num>
          <Num of="TrainBlock.length_mm">
            {block.reading.text && block.length_mm != null
              ? `; ${plain(block.length_mm)} ${block.reading.text}, ± ${plain(block.tolerance_mm)}`
              : `, ± ${plain(block.tolerance_mm)}`}
          </Num>
          {block.sky && phrase(terms.skyTowardsTheSky, { sky: block.sky })}
          {block.sensor &&
            part.kind !== "camera" &&
            phrase(terms.sensorTowardsTheSensor, { sensor: block.sensor })}
        </span>
      </div>
      <div className="part-fields">
        <QuantityInput
          key={asked}
          label={terms.measuredWithCallipers}
          unit="mm"
          low={0.01}
          high={part.kind === "camera" ? 120 : 2000}
          value={reading?.value ?? null}
          onChange={(value, valid) => valid && void measure(value)}
        />
        {block.lowest_mm != null && block.highest_mm != null && (
          <label className="stacked">
            <Phrase
              of={terms.setToSetLengthMmMm}
              with={{
                set_length_mm: (
                  <Num of="PathItem.set_length_mm" still>
                    {plain(entry.set_length_mm ?? block.lowest_mm)}
                  </Num>
                ),
              }}
            />
            <Slider
              min={block.lowest_mm}
              max={block.highest_mm}
              step={0.1}
              value={entry.set_length_mm ?? block.lowest_mm}
              onChange={(value) =>
                changeItem(index, { set_length_mm: value }, phrase(terms.partSet, { part: part.name }))
              }
              ariaLabelForHandle={terms.setLength}
            />
          </label>
        )}
        <label className="stacked">
          {terms.facesSeenFromBehind}
          <Select
            value={
              FACES.some((one) => one.value === entry.faces_deg)
                ? (entry.faces_deg ?? -1)
                : (entry.faces_deg ?? -1)
            }
            options={FACES}
            onChange={(value: number) =>
              changeItem(
                index,
                { faces_deg: value < 0 ? null : value },
                phrase(terms.partTurned, { part: part.name }),
              )
            }
          />
        </label>
        {entry.filters && entry.filters.length > 0 && (
          <label className="stacked">
            {common.filterInUse}
            <Select
              value={entry.in_use ?? -1}
              options={[
                { value: -1, label: common.none },
                ...entry.filters.map((filter, i) => ({ value: i, label: filter.name })),
              ]}
              onChange={(value: number) =>
                changeItem(index, { in_use: value < 0 ? null : value }, common.filterChanged)
              }
            />
          </label>
        )}
        {part.kind === "camera" && ring && (
          <Checkbox
            checked={ring.fitted ?? true}
            onChange={(event) =>
              changeItem(
                index,
                { part: { ...part, front_ring: { ...ring, fitted: event.target.checked } } },
                event.target.checked ? terms.frontRingOn : terms.frontRingOff,
              )
            }
          >
            <Phrase
              of={terms.itsLengthMmMmFrontRing}
              with={{ length_mm: <Num of="CameraRing.length_mm">{plain(ring.length_mm)}</Num> }}
            />
          </Checkbox>
        )}
      </div>
      <GroupReading rig={rig} view={view} from={block} commit={commit} />
      <div className="button-row">
        <SwapButton
          rig={rig}
          index={index}
          kinds={
            part.kind === "camera" ? ["camera"] : [part.kind, ...OTHERS.filter((kind) => kind !== part.kind)]
          }
          patch={patch}
          label={terms.swap}
        />
        <Button size="small" danger onClick={() => onTake(index)}>
          {common.remove}
        </Button>
      </div>
    </section>
  );
}

const OTHERS: Part["kind"][] = ["adapter", "filter_holder", "off_axis_guider", "corrector", "focuser"];
const keyOf = (part: Part) => part.id ?? part.name;

/** One reading over several parts that stand together. */
function GroupReading({
  rig,
  view,
  from,
  commit,
}: {
  rig: Rig;
  view: SpacingView;
  from: TrainBlock;
  commit: Props["commit"];
}) {
  const [last, setLast] = useState<number | null>(null);
  const path = rig.path ?? [];
  const after = view.blocks.filter((block) => block.index > from.index);
  const parts = path.slice(from.index, (last ?? from.index) + 1).map((entry) => keyOf(entry.part));
  const spans = rig.measured_spans ?? [];
  const same = (one: readonly string[]) => one.join("\n") === parts.join("\n");
  const now = spans.find((span) => same(span.parts));
  const sum = view.blocks
    .filter((block) => block.index >= from.index && block.index <= (last ?? from.index))
    .reduce((total, block) => total + (block.nominal_mm ?? 0), 0);
  if (after.length === 0) return null;
  return (
    <div className="part-fields">
      <label className="stacked">
        {terms.oneReadingFromHereTo}
        <Select
          allowClear
          placeholder={terms.theLastPartOfTheGroup}
          value={last}
          onChange={(value: number | undefined) => setLast(value ?? null)}
          options={after.map((block) => ({ value: block.index, label: block.name }))}
        />
      </label>
      {last !== null && (
        <NumberField
          key={parts.join()}
          of="MeasuredSpan.total"
          label={phrase(terms.totalSumMmByTheMakers, { sum: plain(sum) })}
          value={now?.total.value ?? null}
          onChange={(value) => {
            const rest = spans.filter((span) => !same(span.parts));
            const total = {
              value: value ?? 0,
              instrument: "callipers",
              on: new Date().toISOString().slice(0, 10),
            };
            commit(
              (rigNow) => ({
                ...rigNow,
                measured_spans: value === null ? rest : [...rest, { parts, total }],
              }),
              value === null ? terms.groupReadingCleared : terms.groupMeasured,
            );
          }}
        />
      )}
    </div>
  );
}
