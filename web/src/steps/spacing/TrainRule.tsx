/** The image train as blocks on a millimetre rule, true to length: required line, tolerance band, joints, branch. */
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { SpacingView, TrainBlock } from "../../api/types";
import { MarkShape } from "../../drawing/Mark";
import { MmRule } from "../../drawing/MmRule";
import { inPicture } from "../../drawing/pointer";
import { plain } from "../../drawing/quantity";
import { usePracticeUnits } from "../../practice/usePractice";

const WIDTH = 790;
const LEFT = 14;
const RIGHT = 46;
const TOP = 40;
const HIGH = 104;
const LANE = 46;

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
  const units = usePracticeUnits();
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ index: number; from: number; x: number } | null>(null);
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

  const pointerX = (event: { clientX: number; clientY: number }) => inPicture(svg.current, event)?.x ?? 0;
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
  const drop = (event: PointerEvent) => {
    if (!drag) return;
    const moved = Math.abs(drag.x - drag.from) > 6;
    if (moved) {
      const joint = jointAt(drag.x);
      const to = joint > drag.index ? joint - 1 : joint;
      if (to !== drag.index) onMove(drag.index, to);
    }
    svg.current?.releasePointerCapture?.(event.pointerId);
    setDrag(null);
  };
  const keys = (block: TrainBlock, place: number) => (event: KeyboardEvent) => {
    const step = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    const other = blocks[place + step];
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
    <svg
      ref={svg}
      data-testid="train-rule"
      className="train-rule"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="group"
      aria-label="Image train on a millimetre rule"
      onPointerMove={(event) => drag && setDrag({ ...drag, x: pointerX(event) })}
      onPointerUp={drop}
      onPointerCancel={() => setDrag(null)}
      onDragOver={(event) => {
        event.preventDefault();
        setHover(jointAt(pointerX(event)));
      }}
      onDragLeave={() => setHover(null)}
      onDrop={(event) => {
        event.preventDefault();
        setHover(null);
        onDrop(jointAt(pointerX(event)), event.dataTransfer.getData("text/plain"));
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
          <text x={Math.min(x(required), WIDTH - 62)} y={TOP - 18} textAnchor={close ? "end" : "middle"}>
            required {required.toFixed(1)} ± {slack.toFixed(1)}
          </text>
        </g>
      )}
      {blocks.map((block, place) => {
        const wide = Math.max((block.end_mm - block.start_mm) * scale, 2);
        const at = x(block.start_mm) + (drag?.index === block.index ? drag.x - drag.from : 0);
        const on = marked?.index === block.index && !marked.joint;
        return (
          <g
            key={block.index}
            role="button"
            tabIndex={0}
            data-block={block.index}
            aria-label={`${block.name}, ${block.length_mm?.toFixed(1) ?? "unknown"} mm${block.filter ? `, with ${block.filter}` : ""}`}
            aria-pressed={on}
            data-testid="train-block"
            className={`train-block kind-${block.kind} ${on ? "chosen" : ""} ${block.ring ? "ring" : ""}`}
            onClick={() => onMark({ index: block.index, joint: false })}
            onKeyDown={keys(block, place)}
            onPointerDown={(event) => {
              if (event.button !== 0 || block.kind === "camera") return;
              const from = pointerX(event);
              setDrag({ index: block.index, from, x: from });
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
        const at = x(block.start_mm) + (drag?.index === block.index ? drag.x - drag.from : 0);
        const on = marked?.index === block.index && !marked.joint;
        const changed = block.nominal_mm != null && block.length_mm != null && block.reading !== "";
        return (
          <g key={`w${block.index}`} className={`block-words ${on ? "chosen" : ""}`}>
            {wide > 34 && <Label words={block.name} x={at + 7} y={TOP + 16} wide={wide - 10} />}
            {wide > 22 && (
              <text
                x={at + (wide > 60 ? 7 : wide / 2)}
                y={TOP + 60}
                className={`length ${wide > 60 ? "" : "small"}`}
                textAnchor={wide > 60 ? "start" : "middle"}
              >
                {block.length_mm?.toFixed(1) ?? "?"}
              </text>
            )}
            {changed && wide > 60 && (
              <text x={at + 7} y={TOP + 75} className="read">
                nominal {plain(block.nominal_mm ?? 0)}
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
            role="button"
            tabIndex={0}
            aria-label={`Joint ahead of ${block.name}: ${block.joint_words}`}
            aria-pressed={on ?? false}
            className={`joint ${on || hover === block.index ? "chosen" : ""}`}
            transform={`translate(${x(block.start_mm) - 7} ${bottom - 7})`}
            onClick={() => onMark({ index: block.index, joint: true })}
            onKeyDown={(event) => {
              if (event.key === "Enter" || event.key === " ") {
                event.preventDefault();
                onMark({ index: block.index, joint: true });
              }
            }}
          >
            <title>{block.joint_words}</title>
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
            x={Math.min(x(sensor) + (close ? 6 : 0), WIDTH - 60)}
            y={TOP - 18}
            textAnchor={close ? "start" : "middle"}
          >
            sensor {sensor.toFixed(1)}
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
        {`shoulder of the ${view.shoulder}`}
      </text>
      <MmRule from={first} to={last - 3} x={x} y={ruleAt} units={units} />
    </svg>
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
    <text x={x} y={y} className="name">
      {lines.map((line, i) => (
        <tspan key={line + String(i)} x={x} dy={i ? 14 : 0}>
          {line}
        </tspan>
      ))}
    </text>
  );
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
