/** Focal lengths on one scale; the handle snaps to the correctors on the shelf. */
import { scaleLog } from "d3-scale";
import { type PointerEvent, useRef } from "react";
import type { Option } from "../../api/types";
import { MarkShape } from "../../drawing/Mark";
import { inPicture } from "../../drawing/pointer";

const WIDTH = 720;

export function FocalSlider({
  options,
  onChoose,
}: {
  options: readonly Option[];
  onChoose: (option: Option) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const sorted = options
    .filter((option) => option.suits || option.in_use)
    .sort((a, b) => a.focal_length_mm - b.focal_length_mm);
  const at = sorted.findIndex((option) => option.in_use);
  const current = sorted[at];
  const [first, last] = [sorted[0], sorted[sorted.length - 1]];
  if (!current || !first || !last) return null;
  const x = scaleLog()
    .domain([first.focal_length_mm * 0.9, last.focal_length_mm * 1.1])
    .range([20, WIDTH - 20]);
  const pick = (index: number) => {
    const option = sorted[Math.max(0, Math.min(sorted.length - 1, index))];
    if (option && !option.in_use) onChoose(option);
  };
  const nearest = (event: PointerEvent) => {
    const pointer = inPicture(svg.current, event);
    if (!pointer) return;
    const distances = sorted.map((option) => Math.abs(x(option.focal_length_mm) - pointer.x));
    pick(distances.indexOf(Math.min(...distances)));
  };
  let lastAt = -100;
  return (
    <div
      className="focal-slider"
      role="slider"
      tabIndex={0}
      aria-label="Focal length"
      aria-valuemin={Math.round(first.focal_length_mm)}
      aria-valuemax={Math.round(last.focal_length_mm)}
      aria-valuenow={Math.round(current.focal_length_mm)}
      aria-valuetext={`${current.focal_length_mm.toFixed(0)} mm, ${current.label}`}
      onKeyDown={(event) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
        if (by) {
          event.preventDefault();
          pick(at + by);
        }
      }}
      onPointerUp={nearest}
    >
      <svg ref={svg} viewBox={`0 0 ${WIDTH} 62`} aria-hidden="true">
        <line x1={10} x2={WIDTH - 10} y1={26} y2={26} className="axis" />
        {sorted.map((option) => {
          const place = x(option.focal_length_mm);
          const crowded = place - lastAt < 58;
          if (!crowded) lastAt = place;
          return (
            <g
              key={option.label}
              transform={`translate(${place} 26)`}
              className={option.in_use ? "chosen" : ""}
            >
              <title>{`${option.label}: ${option.focal_length_mm.toFixed(0)} mm`}</title>
              {option.in_use && <circle r={13} className="handle" />}
              <g transform="translate(-7 -7) scale(0.875)">
                <rect width={16} height={16} className="under" />
                <MarkShape verdict={option.verdict} />
              </g>
              {(!crowded || option.in_use) && (
                <text y={28} textAnchor="middle" className="num">
                  {option.focal_length_mm.toFixed(0)} mm
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}
