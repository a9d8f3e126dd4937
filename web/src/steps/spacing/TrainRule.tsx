/** The image train as blocks on a millimetre rule, true to length: required line, tolerance band, joints, branch. */
import { type KeyboardEvent, useState } from "react";
import type { SpacingView, TrainBlock } from "../../api/types";
import { MarkShape } from "../../kit/Mark";
import { MmRule } from "../../kit/MmRule";
import { arrow, Plot, press, useHand } from "../../kit/plot";
import { fixed, plain } from "../../kit/quantity";
import { usePreferencesUnits } from "../../preferences/usePreferences";
import { terms as common } from "../../terms/common";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

const WIDTH = 790;
const LEFT = 14;
const RIGHT = 46;
const TOP = 40;
const HIGH = 104;
const LANE = 46;
const ALT: Record<string, -1 | 1> = { ArrowLeft: -1, ArrowRight: 1 };
/** A hand that moves less means to choose. */
const LEAST_MOVE = 6;

/** A block in the hand, and where on the picture it is held. */
interface Laid {
  index: number;
  to: number;
}

export type Marked = { index: number; joint: boolean } | null;

interface Props {
  view: SpacingView;
  marked: Marked;
  onMark: (marked: Marked) => void;
  onMove: (index: number, to: number) => void;
  onNudge: (index: number, by: number) => void;
  onTake: (index: number) => void;
  onDrop: (joint: number, data: string) => void;
  onTray: () => void;
}

export function TrainRule({ view, marked, onMark, onMove, onNudge, onTake, onDrop, onTray }: Props) {
  const units = usePreferencesUnits();
  const hand = useHand<Laid>({
    preview: () => undefined,
    settle: ({ index, to }) => {
      const joint = jointAt(to);
      const place = joint > index ? joint - 1 : joint;
      if (place !== index) onMove(index, place);
    },
  });
  const { held, svg } = hand;
  const [hover, setHover] = useState<number | null>(null);
  const { blocks, branch } = view;
  const first = Math.min(0, ...blocks.map((block) => block.start_mm));
  const ends = [
    ...blocks.map((block) => block.end_mm),
    view.required_mm ?? 0,
    branch ? branch.at_mm + Math.max(branch.actual_mm, branch.required_mm) : 0,
  ];
  const last = Math.max(20, ...ends) + 3;
  const scale = (WIDTH - LEFT - RIGHT) / (last - first);
  const x = (mm: number) => LEFT + (mm - first) * scale;
  const bottom = TOP + HIGH;
  const ruleAt = bottom + (branch ? LANE + 12 : 0) + 14;
  const height = ruleAt + 28;

  const pointerX = (event: { clientX: number; clientY: number }) => hand.at(event)?.x ?? 0;
  const by = held ? held.to.x - held.from.x : 0;
  const carried =
    held && Math.abs(by) > LEAST_MOVE ? held.grip.change(held.from, held.to, false).index : null;
  const ahead = (block: TrainBlock) => x(block.start_mm) + (carried === block.index ? by : 0);
  /** The joint nearest to a place on the picture, as the place in the path of the part behind it. */
  const jointAt = (at: number): number => {
    let best = blocks[0]?.index ?? 0;
    let least = Number.POSITIVE_INFINITY;
    for (const block of blocks) {
      const off = Math.abs(x(block.start_mm) - at);
      if (off < least) [best, least] = [block.index, off];
    }
    return best;
  };
  const take = (block: TrainBlock) =>
    hand.take({
      note: block.name,
      change: (from, to) =>
        Math.abs(to.x - from.x) > LEAST_MOVE
          ? { index: block.index, to: to.x }
          : { index: block.index, to: x(block.start_mm) },
    });
  const keys = (block: TrainBlock, place: number) => (event: KeyboardEvent) => {
    const step = event.altKey ? ALT[event.key] : Math.sign(arrow(event)?.x ?? 0);
    const other = blocks[place + (step ?? 0)];
    if (step && event.altKey) {
      if (other && block.kind !== "camera" && other.kind !== "camera") onMove(block.index, other.index);
    } else if (step && other) {
      onMark({ index: other.index, joint: false });
      svg.current?.querySelector<SVGGElement>(`[data-block="${other.index}"]`)?.focus();
    } else if (event.key === "+" || event.key === "=") onNudge(block.index, 0.1);
    else if (event.key === "-" || event.key === "−") onNudge(block.index, -0.1);
    else if (event.key === "Delete") onTake(block.index);
    else if (event.key === "Insert" || event.key === "i") {
      onMark({ index: block.index, joint: true });
      onTray();
    } else if (event.key === "Enter" || event.key === " ") onMark({ index: block.index, joint: false });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const required = view.required_mm;
  const slack = view.tolerance_mm ?? 0;
  const sensor = view.sensor_mm;
  const close = required != null && sensor != null && Math.abs(x(required) - x(sensor)) < 90;

  return (
    <Plot
      hand={hand}
      width={WIDTH}
      height={height}
      label={terms.imageTrainOnAMillimetreRule}
      name="train-rule"
      className="train-rule"
      rest={terms.dragABlockToAnotherJoint}
      svg={{
        onDragOver: (event: DragEvent) => {
          event.preventDefault();
          setHover(jointAt(pointerX(event)));
        },
        onDragLeave: () => setHover(null),
        onDrop: (event: DragEvent) => {
          event.preventDefault();
          setHover(null);
          onDrop(jointAt(pointerX(event)), event.dataTransfer?.getData("text/plain") ?? "");
        },
      }}
    >
      {required != null && (
        <g className={`required ${view.verdict}`}>
          <rect
            x={x(required - slack)}
            y={TOP - 12}
            width={Math.max(2 * slack * scale, 1)}
            height={ruleAt - TOP + 18}
            className="band"
          />
          <line x1={x(required)} x2={x(required)} y1={TOP - 12} y2={ruleAt + 6} />
          <text
            data-figure="SpacingView.required_mm"
            x={Math.min(x(required), WIDTH - 62)}
            y={TOP - 18}
            textAnchor={close ? "end" : "middle"}
          >
            <Phrase
              of={terms.requiredRequiredSlack}
              with={{ required: fixed(required, 1), slack: fixed(slack, 1) }}
            />
          </text>
        </g>
      )}
      {blocks.map((block, place) => {
        const wide = Math.max((block.end_mm - block.start_mm) * scale, 2);
        const at = ahead(block);
        const on = marked?.index === block.index && !marked.joint;
        return (
          <g
            key={block.index}
            data-block={block.index}
            aria-label={`${block.name}, ${block.length_mm == null ? common.unknown : fixed(block.length_mm, 1)} mm${block.filter ? phrase(terms.withFilter, { filter: block.filter }) : ""}`}
            data-testid="train-block"
            className={`train-block kind-${block.kind} ${on ? "chosen" : ""} ${block.ring ? "ring" : ""}`}
            data-says={says(block)}
            {...press(() => onMark({ index: block.index, joint: false }), on)}
            {...{
              onKeyDown: keys(block, place),
              ...(block.kind !== "camera" && { onPointerDown: take(block) }),
            }}
          >
            <rect x={at} y={TOP} width={wide} height={HIGH} rx={2} />
            {block.filter && (
              <line
                x1={at + wide / 2}
                x2={at + wide / 2}
                y1={TOP + 56}
                y2={bottom - 22}
                className="filter-line"
              />
            )}
          </g>
        );
      })}
      {blocks.map((block) => {
        const wide = Math.max((block.end_mm - block.start_mm) * scale, 2);
        const at = ahead(block);
        const on = marked?.index === block.index && !marked.joint;
        const changed = block.nominal_mm != null && block.length_mm != null && block.reading.text !== "";
        return (
          <g key={`w${block.index}`} className={`block-words ${on ? "chosen" : ""}`}>
            {wide > 34 && <Label words={block.name} x={at + 7} y={TOP + 16} wide={wide - 10} />}
            {wide > 22 && (
              <text
                data-figure="TrainBlock.length_mm"
                x={at + (wide > 60 ? 7 : wide / 2)}
                y={TOP + 60}
                className={`length ${wide > 60 ? "" : "small"}`}
                textAnchor={wide > 60 ? "start" : "middle"}
              >
                {block.length_mm == null ? "?" : fixed(block.length_mm, 1)}
              </text>
            )}
            {changed && wide > 60 && (
              <text data-figure="TrainBlock.nominal_mm" x={at + 7} y={TOP + 75} className="read">
                <Phrase of={terms.nominalNominalMm} with={{ nominal_mm: plain(block.nominal_mm ?? 0) }} />
              </text>
            )}
            {wide > 70 && (
              <text x={at + 7} y={bottom - 9} className="ends">
                {block.sensor && block.kind !== "camera"
                  ? `${block.sky || "?"} → ${block.sensor}`
                  : block.sky}
              </text>
            )}
          </g>
        );
      })}
      {brackets(blocks).map(([name, from, to]) => (
        <g key={name} data-testid="bracket" className="bracket">
          <path d={`M${x(from) + 2} ${TOP - 3}v-5H${x(to) - 2}v5`} />
        </g>
      ))}
      {blocks.map((block) => {
        const on = marked?.joint && marked.index === block.index;
        return (
          <g
            key={`j${block.index}`}
            {...press(() => onMark({ index: block.index, joint: true }), on ?? false)}
            aria-label={phrase(terms.jointAheadOfBlockJointWords, {
              block: block.name,
              joint_words: block.joint_words.text,
            })}
            className={`joint ${on || hover === block.index ? "chosen" : ""}`}
            transform={`translate(${x(block.start_mm) - 7} ${bottom - 7})`}
            data-says={block.joint_words.text}
          >
            <circle cx={7} cy={7} r={9} className="joint-ground" />
            <g transform="scale(0.875)">
              <MarkShape verdict={block.joint} />
            </g>
          </g>
        );
      })}
      {sensor != null && (
        <g className="sensor-mark">
          <line x1={x(sensor)} x2={x(sensor)} y1={TOP - 12} y2={ruleAt + 6} />
          <text
            data-figure="SpacingView.sensor_mm"
            x={Math.min(x(sensor) + (close ? 6 : 0), WIDTH - 60)}
            y={TOP - 18}
            textAnchor={close ? "start" : "middle"}
          >
            <Phrase of={terms.sensorSensor} with={{ sensor: fixed(sensor, 1) }} />
          </text>
        </g>
      )}
      {branch && (
        <g className="branch">
          <path d={`M${x(branch.at_mm)} ${TOP + HIGH - 30}V${bottom + 10 + LANE / 2}`} className="pick-off" />
          {branch.blocks.map((block) => (
            <g key={block.name}>
              <rect
                x={x(branch.at_mm + block.start_mm)}
                y={bottom + 10}
                width={Math.max((block.end_mm - block.start_mm) * scale, 1)}
                height={LANE - 8}
                rx={2}
              />
              {(block.end_mm - block.start_mm) * scale > 44 && (
                <Label
                  words={block.name}
                  x={x(branch.at_mm + block.start_mm) + 5}
                  y={bottom + 24}
                  wide={(block.end_mm - block.start_mm) * scale - 8}
                />
              )}
            </g>
          ))}
          <line
            x1={x(branch.at_mm + branch.required_mm)}
            x2={x(branch.at_mm + branch.required_mm)}
            y1={bottom + 4}
            y2={bottom + LANE + 8}
            className="guide-required"
          />
        </g>
      )}
      {blocks.length > 0 && (
        <line x1={x(0)} x2={x(0)} y1={TOP - 12} y2={ruleAt + 6} className="shoulder-line" />
      )}
      <text x={Math.min(x(0), WIDTH - 300)} y={TOP - 18} className="shoulder-words">
        {phrase(terms.shoulderOfTheShoulder, { shoulder: view.shoulder })}
      </text>
      <MmRule from={first} to={last - 3} x={x} y={ruleAt} units={units} />
    </Plot>
  );
}

/** Words on as many of three lines as they need, cut where the block ends. */
function Label({ words, x, y, wide }: { words: string; x: number; y: number; wide: number }) {
  const most = Math.max(3, Math.floor(wide / 6.3));
  const lines: string[] = [];
  for (const word of words.split(" ")) {
    const now = lines[lines.length - 1];
    if (now !== undefined && `${now} ${word}`.length <= most) lines[lines.length - 1] = `${now} ${word}`;
    else if (lines.length < 2) lines.push(word.slice(0, most));
    else break;
  }
  return (
    <text x={x} y={y} className="name" data-given>
      {lines.map((line, i) => (
        <tspan key={line + String(i)} x={x} dy={i ? 14 : 0}>
          {line}
        </tspan>
      ))}
    </text>
  );
}

/** A block as the line under the picture tells it: its length as counted, what it was given as, its ends. */
function says(block: TrainBlock): string {
  const length = block.length_mm == null ? terms.lengthUnknown : `${fixed(block.length_mm, 1)} mm`;
  const nominal =
    block.nominal_mm != null && block.reading.text !== ""
      ? phrase(terms.nominalNominalMmMm, { nominal_mm: plain(block.nominal_mm) })
      : "";
  const ends = block.sensor && block.kind !== "camera" ? `${block.sky || "?"} → ${block.sensor}` : block.sky;
  return [
    block.name,
    length,
    nominal,
    ends,
    block.filter && phrase(terms.withFilter2, { filter: block.filter }),
  ]
    .filter(Boolean)
    .join(", ");
}

function brackets(blocks: readonly TrainBlock[]): [string, number, number][] {
  const found = new Map<string, [number, number]>();
  for (const block of blocks) {
    if (!block.assembly) continue;
    const now = found.get(block.assembly);
    found.set(block.assembly, now ? [now[0], block.end_mm] : [block.start_mm, block.end_mm]);
  }
  return [...found].map(([name, [from, to]]) => [name, from, to]);
}
