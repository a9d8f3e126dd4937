/** The light path in side elevation, true to scale: sky on the left, sensor on the right. */

import type { KeyboardEvent } from "react";
import type { Block, Strip } from "../api/types";
import { Num } from "../kit/Calculated";
import { MarkShape } from "../kit/Mark";
import { MmRule } from "../kit/MmRule";
import { Plot, press } from "../kit/plot";
import { plain, shown } from "../kit/quantity";
import { usePreferencesUnits } from "../preferences/usePreferences";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

/** Measures of the drawing: large where the train itself is looked at, slim where it only stands above other work. */
const LARGE = {
  width: 780,
  height: 144,
  left: 26,
  right: 40,
  axis: 56,
  half: 52,
  line: 50,
  joints: 46,
  rule: 114,
};
const SLIM = {
  width: 640,
  height: 84,
  left: 6,
  right: 34,
  axis: 29,
  half: 25,
  line: 28,
  joints: 28,
  rule: 64,
};
/** In a column beside other work. */
const BESIDE = {
  width: 350,
  height: 112,
  left: 4,
  right: 26,
  axis: 44,
  half: 40,
  line: 42,
  joints: 40,
  rule: 90,
};
type Measures = typeof LARGE;

interface Props {
  slim?: boolean;
  beside?: boolean;
  /** Only the place that a larger one stands over. */
  covered?: boolean;
  strip: Strip;
  chosen: number | null;
  onChoose: (index: number) => void;
  onMove: (index: number, by: number) => void;
}

export function LightStrip({
  slim = false,
  beside = false,
  covered = false,
  strip,
  chosen,
  onChoose,
  onMove,
}: Props) {
  const m = beside ? BESIDE : slim ? SLIM : LARGE;
  const units = usePreferencesUnits();
  // One scale for both directions: a block is as wide and as high as the part is.
  const scale = Math.min(
    (m.width - m.left - m.right) / Math.max(strip.length_mm, 60),
    m.half / Math.max(strip.half_height_mm, 20),
  );
  const x = (mm: number) => m.left + mm * scale;
  const beam = strip.beam;
  const upper = beam.map(([at, height]) => `${x(at)},${m.axis - height * scale}`);
  const lower = [...beam].reverse().map(([at, height]) => `${x(at)},${m.axis + height * scale}`);
  const off = strip.focus_mm != null && strip.sensor_mm != null ? strip.sensor_mm - strip.focus_mm : 0;
  const missed = phrase(terms.lightMeetsOffMmWhichThe, {
    off: plain(Math.abs(off), 1),
    which: off > 0 ? terms.before : terms.behind,
  });
  const resting = (
    <>
      {strip.note.text}
      {strip.note.text && Math.abs(off) > 0.5 && " · "}
      {Math.abs(off) > 0.5 && <Num of="LightStrip.focus_mm">{missed}</Num>}
    </>
  );
  const keys = (block: Block) => (event: KeyboardEvent) => {
    const by = event.altKey ? { ArrowLeft: -1, ArrowRight: 1 }[event.key] : undefined;
    if (by) onMove(block.index, by);
    else if (event.key === "Enter" || event.key === " ") onChoose(block.index);
    else return;
    event.preventDefault();
  };
  return (
    <Plot
      width={m.width}
      height={m.height}
      label={terms.lightPathToScale}
      name={covered ? undefined : "light-strip"}
      className={slim ? "light-strip slim" : "light-strip"}
      rest={slim ? undefined : resting}
      svg={{ "aria-hidden": covered || undefined }}
    >
      {strip.drawtube && <BlockRect block={strip.drawtube} m={m} x={x} scale={scale} className="drawtube" />}
      {strip.blocks.map((block) => (
        <g
          key={block.index}
          {...press(() => onChoose(block.index), chosen === block.index)}
          {...{ onKeyDown: keys(block) }}
          data-says={describe(block, units)}
          aria-label={`${block.name}, ${plain(counted(block), 1)} mm`}
          className={`block kind-${block.kind} ${chosen === block.index ? "chosen" : ""}`}
        >
          {slim && <title>{describe(block, units)}</title>}
          <BlockRect
            block={block}
            m={m}
            x={x}
            scale={scale}
            className={block.assumed?.length ? "assumed" : ""}
          />
        </g>
      ))}
      {beam.length > 1 && <polygon points={[...upper, ...lower].join(" ")} className="beam" />}
      {beam.length > 1 && <polyline points={upper.join(" ")} className="beam-edge" />}
      {beam.length > 1 && <polyline points={[...lower].reverse().join(" ")} className="beam-edge" />}
      {strip.elements.map((element) => {
        const half = (element.diameter_mm / 2) * scale;
        const at = x(element.at_mm);
        const key = `${element.kind}${element.at_mm}`;
        if (element.kind === "mirror")
          return <line key={key} x1={at} x2={at} y1={m.axis - half} y2={m.axis + half} className="mirror" />;
        if (element.kind === "filter")
          return (
            <rect key={key} x={at - 1.2} y={m.axis - half} width={2.4} height={half * 2} className="plate" />
          );
        if (element.kind === "prism")
          return (
            <path
              key={key}
              d={`M${at} ${m.axis - half * 0.55}v${-half * 0.4}h3v${half * 0.4}z`}
              className="plate"
            />
          );
        const bulge = element.kind === "lens" ? 5 : -3;
        return (
          <path
            key={key}
            d={`M${at - 2} ${m.axis - half}Q${at - 2 - bulge} ${m.axis} ${at - 2} ${m.axis + half}L${at + 2} ${m.axis + half}Q${at + 2 + bulge} ${m.axis} ${at + 2} ${m.axis - half}Z`}
            className="lens"
          />
        );
      })}
      {strip.required_mm != null && (
        <line
          x1={x(strip.required_mm)}
          x2={x(strip.required_mm)}
          y1={m.axis - m.line}
          y2={m.axis + m.line}
          className="required-line"
        />
      )}
      {strip.joints.map((joint) => (
        <g
          key={joint.index}
          transform={`translate(${x(joint.at_mm) - 4.5} ${m.axis + m.joints})`}
          className="strip-joint"
          data-says={joint.words.text}
        >
          {slim && <title>{joint.words.text}</title>}
          <circle cx={4.5} cy={4.5} r={5.5} className="joint-ground" />
          <g transform="scale(0.56)">
            <MarkShape verdict={joint.verdict} />
          </g>
        </g>
      ))}
      {strip.focus_mm != null && (
        <line
          x1={x(strip.focus_mm)}
          x2={x(strip.focus_mm)}
          y1={0}
          y2={m.axis + m.line + 4}
          className="focus-line"
        />
      )}
      {strip.sensor_mm != null && strip.sensor_half_mm != null && (
        <line
          x1={x(strip.sensor_mm)}
          x2={x(strip.sensor_mm)}
          y1={m.axis - strip.sensor_half_mm * scale}
          y2={m.axis + strip.sensor_half_mm * scale}
          className="sensor-line"
        />
      )}
      <MmRule from={0} to={Math.max(strip.length_mm, 60)} x={x} y={m.rule} units={units} />
    </Plot>
  );
}

function BlockRect({
  block,
  m,
  x,
  scale,
  className,
}: {
  block: Block;
  m: Measures;
  x: (mm: number) => number;
  scale: number;
  className: string;
}) {
  const half = (block.diameter_mm / 2) * scale;
  return (
    <rect
      x={x(block.start_mm)}
      y={m.axis - half}
      width={Math.max((block.end_mm - block.start_mm) * scale, 1)}
      height={half * 2}
      rx={1.5}
      className={className}
    />
  );
}

/** The length the train counts with, as on the rule; a tube's own where it has none. */
const counted = (block: Block) => block.length_mm ?? block.end_mm - block.start_mm;

function describe(block: Block, units: "metric" | "imperial"): string {
  const length = shown(counted(block), "mm", units);
  const body = block.end_mm - block.start_mm;
  const wide = shown(block.diameter_mm, "mm", units);
  const assumed = block.assumed?.length
    ? phrase(terms.assumedAssumedThePartGivesNone, { assumed: block.assumed.join(" and ") })
    : "";
  return phrase(terms.blockLongWide, {
    block: block.name,
    long: `${plain(length.value)} ${length.unit}`,
    which: Math.abs(body - counted(block)) > 0.05 ? terms.ofLightPath : terms.long,
    wide: `${plain(wide.value)} ${wide.unit}`,
    assumed,
  });
}
