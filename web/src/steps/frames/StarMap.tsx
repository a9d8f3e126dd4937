/** The stars over the sensor, their elongation drawn larger than it is; and the same stars unrolled: out from the middle across. */

import { type KeyboardEvent, type PointerEvent, useState } from "react";
import type { FrameShown } from "../../api/types";
import { arrow, Plot } from "../../kit/plot";
import { inPicture } from "../../kit/pointer";
import { fixed } from "../../kit/quantity";
import { terms } from "../../terms/frames";
import { phrase } from "../../terms/phrase";

const WIDTH = 640;
const ZONES = 3;
const STAR = WIDTH / 150;
const LENS = 62;
const UNROLLED = [640, 210] as const;

export type Reading = FrameShown["reading"];
type Star = Reading["stars"][number];
interface Props {
  reading: Reading;
  /** How many times larger than it is the elongation is drawn. */
  times: number;
}

interface MapProps extends Props {
  /** Lines of equal width; none where the causes are to be found by eye. */
  lines?: FrameShown["proof"]["lines"];
}

interface ShapeProps {
  star: Star;
  usual: number;
  times: number;
  x: number;
  y: number;
  angle: number;
}

function Shape({ star, usual, times, x, y, angle }: ShapeProps) {
  const longer = Math.sqrt(1 + (star.elongation - 1) * times);
  const wide = (star.fwhm_px / usual) * STAR;
  return (
    <ellipse
      className="star-shape"
      cx={x}
      cy={y}
      rx={wide * longer}
      ry={wide / longer}
      transform={`rotate(${angle} ${x} ${y})`}
      data-says={phrase(terms.fwhmPxPxWideElongationTimes, {
        fwhm_px: fixed(star.fwhm_px, 2),
        elongation: fixed(star.elongation, 2),
        angle_deg: fixed(star.angle_deg, 0),
      })}
    />
  );
}

export function StarMap({ reading, times, lines = [] }: MapProps) {
  const height = Math.round((WIDTH * reading.height) / reading.width);
  const usual = reading.fwhm_px ?? 1;
  const widths = reading.zones.flatMap((zone) => (zone.fwhm_px == null ? [] : [zone.fwhm_px]));
  const [least, most] = [Math.min(...widths), Math.max(...widths)];
  const place = (zone: (typeof reading.zones)[number]) => ({
    x: (zone.column * WIDTH) / ZONES,
    y: (zone.line * height) / ZONES,
  });
  const [lens, setLens] = useState<{ x: number; y: number } | null>(null);
  const under = lens && nearest(reading, lens.x / WIDTH, lens.y / height);
  const walk = (event: KeyboardEvent) => {
    if (event.key === "Escape") setLens(null);
    const by = arrow(event);
    if (!by) return;
    event.preventDefault();
    const from = lens ?? { x: WIDTH / 2, y: height / 2 };
    const ninth = (at: number, step: number, whole: number) =>
      ((Math.min(ZONES - 1, Math.max(0, Math.floor((at / whole) * ZONES) + Math.sign(step))) + 0.5) * whole) /
      ZONES;
    setLens({ x: ninth(from.x, by.x, WIDTH), y: ninth(from.y, -by.y, height) });
  };
  return (
    <Plot
      width={WIDTH}
      height={height}
      name="star-map"
      className="star-map"
      label={phrase(terms.starsOfReadingOverTheSensor, { reading: reading.name })}
      rest={
        under
          ? phrase(terms.fwhmPxPxWideElongationTimes, {
              fwhm_px: fixed(under.fwhm_px, 2),
              elongation: fixed(under.elongation, 2),
              angle_deg: fixed(under.angle_deg, 0),
            })
          : phrase(terms.fittedStarsOfFoundBrighterNinths, { fitted: reading.fitted, found: reading.found })
      }
      svg={{
        tabIndex: 0,
        onKeyDown: walk,
        onBlur: () => setLens(null),
        onPointerMove: (event: PointerEvent<SVGSVGElement>) => setLens(inPicture(event.currentTarget, event)),
        onPointerLeave: () => setLens(null),
      }}
    >
      {reading.zones.map((zone) => (
        <g key={`${zone.column} ${zone.line}`}>
          <rect className="zone-sky" {...place(zone)} width={WIDTH / ZONES} height={height / ZONES} />
          <rect
            className="zone-sharp"
            {...place(zone)}
            width={WIDTH / ZONES}
            height={height / ZONES}
            opacity={
              zone.fwhm_px == null ? 0 : 0.5 * ((most - zone.fwhm_px) / Math.max(most - least, 0.12 * most))
            }
          />
        </g>
      ))}
      {reading.stars.map((star) => (
        <Shape
          key={`${star.x} ${star.y}`}
          star={star}
          usual={usual}
          times={times}
          x={star.x * WIDTH}
          y={star.y * height}
          angle={star.angle_deg}
        />
      ))}
      {reading.zones.map((zone) => (
        <text
          data-figure="Zone.fwhm_px"
          key={`${zone.column} ${zone.line}`}
          x={place(zone).x + 8}
          y={place(zone).y + 19}
          className="zone-width num"
        >
          {zone.fwhm_px == null ? terms.tooFew : `${fixed(zone.fwhm_px, 2)} px`}
        </text>
      ))}
      {lines.map((line) => (
        <path
          key={line.fwhm_px}
          className="width-line"
          d={line.pieces
            .map(
              ([x0 = 0, y0 = 0, x1 = 0, y1 = 0]) =>
                `M${x0 * WIDTH} ${y0 * height}L${x1 * WIDTH} ${y1 * height}`,
            )
            .join("")}
        />
      ))}
      {lines.map((line) => {
        const [x = 0, y = 0] = line.pieces[Math.floor(line.pieces.length / 2)] ?? [];
        return (
          <text
            data-figure="WidthLine.fwhm_px"
            key={line.fwhm_px}
            className="line-width num"
            x={x * WIDTH}
            y={y * height + 4}
          >
            {fixed(line.fwhm_px, 2)}
          </text>
        );
      })}
      {lens && under && <Lens star={under} x={lens.x} y={lens.y} height={height} />}
    </Plot>
  );
}

function nearest(reading: Reading, x: number, y: number): Star | null {
  const away = (star: Star) => Math.hypot((star.x - x) * reading.width, (star.y - y) * reading.height);
  return reading.stars.reduce<Star | null>(
    (best, star) => (best && away(best) <= away(star) ? best : star),
    null,
  );
}

/** The star next to the pointer as the sensor saw it, pixel by pixel; it stays within the picture. */
function Lens({ star, x, y, height }: { star: Star; x: number; y: number; height: number }) {
  const reach = Math.min(7, Math.max(4, Math.ceil(star.fwhm_px * 1.6)));
  const pixel = LENS / (reach + 0.5);
  const [at, down] = [
    Math.min(WIDTH - LENS - 2, Math.max(LENS + 2, x)),
    Math.min(height - LENS - 2, Math.max(LENS + 2, y)),
  ];
  const angle = (star.angle_deg * Math.PI) / 180;
  const [long, short] = [
    star.fwhm_px * Math.sqrt(star.elongation),
    star.fwhm_px / Math.sqrt(star.elongation),
  ];
  const steps = Array.from({ length: 2 * reach + 1 }, (_, i) => i - reach);
  return (
    <g className="loupe" data-testid="loupe" transform={`translate(${at} ${down})`}>
      <clipPath id="loupe-rim">
        <circle r={LENS} />
      </clipPath>
      <circle r={LENS} className="loupe-sky" />
      <g clipPath="url(#loupe-rim)">
        {steps.flatMap((j) =>
          steps.map((i) => {
            const along = (i * Math.cos(angle) + j * Math.sin(angle)) / long;
            const across = (j * Math.cos(angle) - i * Math.sin(angle)) / short;
            return (
              <rect
                key={`${i} ${j}`}
                className="loupe-pixel"
                x={(i - 0.5) * pixel}
                y={(j - 0.5) * pixel}
                width={pixel}
                height={pixel}
                fillOpacity={2 ** (-4 * (along ** 2 + across ** 2))}
              />
            );
          }),
        )}
      </g>
      <circle r={LENS} className="loupe-rim" />
    </g>
  );
}

/** Distance from the middle across, direction down: what lies flat points outwards, what stands up goes around. */
export function Unrolled({ reading, times }: Props) {
  const [wide, tall] = UNROLLED;
  const usual = reading.fwhm_px ?? 1;
  const half = Math.hypot(reading.width, reading.height) / 2;
  return (
    <Plot
      width={wide}
      height={tall}
      name="unrolled"
      className="star-map"
      label={terms.theSameStarsUnrolledOutFrom}
      rest={terms.unrolledOutFromTheMiddleLying}
    >
      <rect className="zone-sky" x={0} y={0} width={wide} height={tall} />
      {reading.stars.map((star) => {
        const [dx, dy] = [(star.x - 0.5) * reading.width, (star.y - 0.5) * reading.height];
        const way = (Math.atan2(dy, dx) * 180) / Math.PI;
        return (
          <Shape
            key={`${star.x} ${star.y}`}
            star={star}
            usual={usual}
            times={times}
            x={10 + (Math.hypot(dx, dy) / half) * (wide - 20)}
            y={8 + ((way + 180) / 360) * (tall - 16)}
            angle={star.angle_deg - way}
          />
        );
      })}
    </Plot>
  );
}
