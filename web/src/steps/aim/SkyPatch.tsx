/** A patch of sky with the sensor footprint on it: north up, east to the left. Drag, turn, or use the keys. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import { api, dataAs } from "../../api/client";
import type { Footprint, Framing, SkyPatch as Patch, Target } from "../../api/types";
import { boxOf } from "../../kit/labels";
import { type At, arrow, Plot, slider, useHand } from "../../kit/plot";
import { coordinate, degrees, fixed, hours } from "../../kit/quantity";
import { terms } from "../../terms/aim";
import { phrase } from "../../terms/phrase";
import { HEIGHT, Labels, niceBar, type Point, starPaths, WIDTH } from "./skyParts";

export type Change = Partial<Framing> & {
  move_to?: [number, number];
  outline?: { end: "major" | "minor"; to: [number, number] };
};
type Kind = "move" | "turn" | "major" | "minor";
const SAVED_AS: Record<Kind, string> = {
  move: terms.footprintMoved,
  turn: terms.footprintTurned,
  major: terms.outlineDrawn,
  minor: terms.outlineDrawn,
};

interface Props {
  view: { ra_deg: number; dec_deg: number };
  radius: number;
  footprint: Footprint | null;
  target: Target;
  up?: "north" | "south";
  others: { rig_id: string; name: string; footprint: Footprint }[];
  onPreview: (change: Change) => void;
  onSettle: (change: Change, note: string) => void;
  onGiveUp: () => void;
  shown: () => boolean;
  onZoom: (by: number) => void;
}

export function SkyPatch({
  view,
  radius,
  footprint,
  target,
  up,
  others,
  onPreview,
  onSettle,
  onGiveUp,
  shown,
  onZoom,
}: Props) {
  const hand = useHand<Change>({ preview: onPreview, settle: onSettle, giveUp: onGiveUp, shown });
  const { svg, nudge, pending } = hand;
  // The patch is asked for in steps, so that a turn or a small zoom does not fetch it again.
  const reach = Math.min(29, 2 ** Math.ceil(Math.log2(radius * (Math.hypot(WIDTH, HEIGHT) / HEIGHT))));
  const patch = useQuery({
    queryKey: ["patch", view.ra_deg, view.dec_deg, reach],
    queryFn: () =>
      dataAs<Patch>(api.GET("/api/v1/sky/patch", { params: { query: { ...view, radius_deg: reach } } })),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const scale = Math.min(WIDTH, HEIGHT) / 2 / radius;
  const px = ([x, y]: Point): [number, number] => [WIDTH / 2 - x * scale, HEIGHT / 2 - y * scale];
  const points = (list: readonly Point[]) =>
    list.map((point) => px(point).map(coordinate).join(",")).join(" ");
  const stars = useMemo(() => (patch.data ? starPaths(patch.data, scale) : []), [patch.data, scale]);

  const onSky = ({ x, y }: At): Point => [(WIDTH / 2 - x) / scale, (HEIGHT / 2 - y) / scale];
  const angle = footprint?.framing.position_angle_deg ?? 90;
  const wrap = (value: number) => Math.round((((value % 360) + 360) % 360) * 10) / 10;

  const start = (kind: Kind) => {
    const [cx, cy] = footprint?.centre ?? [0, 0];
    return hand.take({
      note: SAVED_AS[kind],
      change: (from, to, free): Change => {
        const [now, was] = [onSky(to), onSky(from)];
        if (kind === "move") return { move_to: [cx + now[0] - was[0], cy + now[1] - was[1]] };
        if (kind !== "turn") return { outline: { end: kind, to: [now[0], now[1]] } };
        const up = (Math.atan2(now[0] - cx, now[1] - cy) * 180) / Math.PI;
        const turned = wrap(Math.round(up + 90));
        return { position_angle_deg: free ? turned : snapped(turned, target.position_angle_deg ?? 0) };
      },
    });
  };

  function turnBy(by: number) {
    nudge({ position_angle_deg: wrap((pending()?.position_angle_deg ?? angle) + by) }, terms.footprintTurned);
  }

  const turnRef = useRef(turnBy);
  turnRef.current = turnBy;
  useEffect(() => {
    const node = svg.current;
    const onWheel = (event: WheelEvent) => {
      // The bare wheel scrolls the page: a footprint turned by accident would be saved.
      if (!event.shiftKey) return;
      event.preventDefault();
      turnRef.current((event.deltaY || event.deltaX) > 0 ? 1 : -1);
    };
    node?.addEventListener("wheel", onWheel, { passive: false });
    return () => node?.removeEventListener("wheel", onWheel);
  }, [svg]);

  function onKey(event: React.KeyboardEvent) {
    if (!footprint || event.ctrlKey || event.metaKey || event.altKey) return;
    const by = arrow(event);
    if (by) {
      // East is to the left; ten steps of an arrow are four here, so that the target stays in sight.
      const step = (event.shiftKey ? 0.02 : 0.05) * Math.min(footprint.width_deg, footprint.height_deg);
      const [x, y] = pending()?.move_to ?? footprint.centre;
      nudge({ move_to: [x - by.x * step, y + by.y * step] }, terms.footprintMoved);
    } else if (event.key === "[" || event.key === "{") turnBy(event.key === "{" ? -10 : -1);
    else if (event.key === "]" || event.key === "}") turnBy(event.key === "}" ? 10 : 1);
    else if (event.key === "+" || event.key === "=") onZoom(1.25);
    else if (event.key === "-") onZoom(0.8);
    else if (event.key === "0") nudge({ move_to: [0, 0] }, "centred");
    else return;
    event.preventDefault();
  }

  /** Keys on an end of the outline: it grows or shrinks along its own axis; brackets turn the longer one. */
  function onOutlineKey(event: React.KeyboardEvent, end: "major" | "minor", at: Point) {
    if (!footprint || event.ctrlKey || event.metaKey || event.altKey) return;
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    const turn = { "[": -1, "]": 1 }[event.key];
    if (by === undefined && turn === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const [x, y] = pending()?.outline?.to ?? at;
    const grown = 1 + (by ?? 0) * (event.shiftKey ? 0.1 : 0.02);
    const angle = ((turn ?? 0) * (event.shiftKey ? 10 : 2) * Math.PI) / 180;
    const to: [number, number] = [
      (x * Math.cos(angle) + y * Math.sin(angle)) * grown,
      (y * Math.cos(angle) - x * Math.sin(angle)) * grown,
    ];
    nudge({ outline: { end, to } }, SAVED_AS[end]);
  }

  const label = footprint
    ? phrase(terms.centreCentreRaDegCentreDec, {
        centre_ra_deg: hours(footprint.framing.centre_ra_deg),
        centre_dec_deg: degrees(footprint.framing.centre_dec_deg),
        angle: fixed(angle, 0),
      })
    : "";
  const centre = useRef<Point>([0, 0]);
  if (!hand.held && footprint) centre.current = footprint.centre;
  // The hand runs ahead of the server's answer: what it has moved since is drawn at once.
  const { held } = hand;
  const lag: Point =
    held?.grip.note === SAVED_AS.move && footprint
      ? [
          (held.from.x - held.to.x) / scale - (footprint.centre[0] - centre.current[0]),
          (held.from.y - held.to.y) / scale - (footprint.centre[1] - centre.current[1]),
        ]
      : [0, 0];
  const [one, , two] = footprint?.outline.filter((_, i, all) => i % (all.length / 4) === 0) ?? [];
  const middle: Point = one && two ? [(one[0] + two[0]) / 2, (one[1] + two[1]) / 2] : [0, 0];
  const { major_arcmin, minor_arcmin } = footprint?.framing.target ?? target;
  const sizes = [major_arcmin, minor_arcmin];
  const bar = niceBar(radius);
  const taken = others.map((other) => {
    const [x, y] = px(corner(other.footprint));
    return boxOf({ key: other.rig_id, words: other.name, x, y: y - 5 });
  });
  return (
    <div className="sky-box">
      <Plot
        hand={hand}
        width={WIDTH}
        height={HEIGHT}
        label={phrase(terms.skyAroundTarget, { target: target.name })}
        name="sky-patch"
        className="sky-patch"
        rest={phrase(terms.starsToMagnitudeFaintestDragThe, { faintest: patch.data?.faintest ?? 10 })}
      >
        <rect width={WIDTH} height={HEIGHT} className="sky-ground" />
        <g className="milky-way">
          {patch.data?.milky_way.map((line, i) => (
            <polyline key={i} points={points(line as Point[])} />
          ))}
        </g>
        {stars.map((star) => (
          <path key={star.radius} d={star.d} strokeWidth={star.radius * 2} className="stars" />
        ))}
        <g className="sky-objects">
          {patch.data?.objects
            .filter((object) => object.name !== target.name && (object.major_arcmin ?? 0) / 60 < radius * 2.5)
            .map((object) => (
              <polygon key={object.name} points={points(object.outline as Point[])} />
            ))}
          {patch.data && (
            <Labels objects={patch.data.objects} target={target} px={px} scale={scale} taken={taken} />
          )}
        </g>
        {footprint && <polygon points={points(footprint.outline as Point[])} className="target-outline" />}
        {others.map((other) => (
          <g
            key={other.rig_id}
            data-testid="other-footprint"
            className="other-footprint"
            data-says={phrase(terms.theFieldOfOther, { other: other.name })}
          >
            {other.footprint.tiles.map((tile) => (
              <polygon key={other.rig_id} points={points(tile as Point[])} />
            ))}
            <text x={px(corner(other.footprint))[0]} y={px(corner(other.footprint))[1] - 5}>
              {other.name}
            </text>
          </g>
        ))}
        {footprint && (
          <g
            data-testid="footprint"
            className="footprint"
            {...slider(
              phrase(terms.footprintOnTarget, { target: target.name }),
              Math.round(angle),
              [0, 360],
              label,
              {
                onKeyDown: onKey,
                onPointerDown: start("move"),
              },
            )}
            transform={`translate(${-lag[0] * scale} ${-lag[1] * scale})`}
          >
            {footprint.tiles.map((tile, i) => (
              <polygon key={i} points={points(tile as Point[])} />
            ))}
            {footprint.tiles.length > 1 &&
              footprint.tiles.map((tile, i) => (
                <TileNumber key={i} at={px(inTheCorner(tile as Point[]))} number={i + 1} />
              ))}
            <line
              x1={px(footprint.centre)[0]}
              y1={px(footprint.centre)[1]}
              x2={px(footprint.handle)[0]}
              y2={px(footprint.handle)[1]}
              className="stem"
            />
            <circle
              cx={px(footprint.handle)[0]}
              cy={px(footprint.handle)[1]}
              r={7}
              data-testid="turn-handle"
              className="turn-handle"
              onPointerDown={start("turn")}
            />
            <circle
              cx={px(footprint.centre)[0]}
              cy={px(footprint.centre)[1]}
              r={2.2}
              data-testid="centre-dot"
              className="centre-dot"
            />
          </g>
        )}
        {footprint?.outline_ends && (
          <g className="outline-ends">
            {(["major", "minor"] as const).map((end, i) => {
              const at = footprint.outline_ends?.[i] as Point;
              // On a small outline the ends would lie over one another and over the footprint: come closer to draw it.
              if (Math.hypot(at[0] - middle[0], at[1] - middle[1]) * scale < LEAST_REACH) return null;
              return (
                <circle
                  key={end}
                  cx={px(at)[0]}
                  cy={px(at)[1]}
                  r={5}
                  data-testid={`outline-${end}`}
                  {...slider(
                    phrase(terms.whichAxisOfTarget, {
                      which: end === "major" ? terms.longer : terms.shorter,
                      target: target.name,
                    }),
                    Math.round(sizes[i] ?? 0),
                    [0, MOST_ARCMIN],
                    footprint.size_words.text,
                    {
                      onPointerDown: start(end),
                      onKeyDown: (event) => onOutlineKey(event, end, at),
                    },
                  )}
                />
              );
            })}
          </g>
        )}
        <g className="compass" transform={`translate(40 ${HEIGHT - 26})`}>
          <path d="M0 0V-26M-4 -20L0 -27L4 -20M0 0H-22M-16 -4L-23 0L-16 4" />
          <text x={6} y={-20}>
            N
          </text>
          <text x={-33} y={4}>
            E
          </text>
        </g>
        {up && (
          <g className="up-mark" transform={`translate(${WIDTH / 2} ${up === "north" ? 4 : HEIGHT - 4})`}>
            <path d={up === "north" ? "M-5 7L0 0L5 7" : "M-5 -7L0 0L5 -7"} />
            <text x={9} y={up === "north" ? 9 : -1}>
              {terms.upAtTheMeridian}
            </text>
          </g>
        )}
        <g
          data-testid="scale-bar"
          className="scale-bar"
          transform={`translate(${WIDTH - 20 - bar.deg * scale} ${HEIGHT - 20})`}
        >
          <path d={`M0 -4V0H${bar.deg * scale}V-4`} />
          <text x={(bar.deg * scale) / 2} y={-6} textAnchor="middle" data-axis>
            {bar.words}
          </text>
        </g>
      </Plot>
      <div className="zoom">
        <button type="button" aria-label={terms.closer} onClick={() => onZoom(1.25)}>
          +
        </button>
        <button type="button" aria-label={terms.wider} onClick={() => onZoom(0.8)}>
          −
        </button>
      </div>
    </div>
  );
}

/** The number a tile has in the list of centres. */
function TileNumber({ at: [x, y], number }: { at: [number, number]; number: number }) {
  return (
    <text x={x} y={y + 4} textAnchor="middle" className="tile-number">
      {number}
    </text>
  );
}

/** A little way from a tile's first corner towards the opposite one. */
function inTheCorner([one = [0, 0], , other = [0, 0]]: Point[]): Point {
  return [one[0] + (other[0] - one[0]) * 0.09, one[1] + (other[1] - one[1]) * 0.11];
}

const SNAP_DEG = 4;
const LEAST_REACH = 18;
const MOST_ARCMIN = 3600;

/** The target's own axes, landscape and portrait draw the handle to them; with Shift it turns freely. */
function snapped(turned: number, axis: number): number {
  const near = (to: number) => Math.abs(((((turned - to) % 180) + 270) % 180) - 90);
  const to = [axis, axis + 90, 0, 90].find((one) => near(one) <= SNAP_DEG);
  if (to === undefined) return turned;
  const half = ((to % 180) + 180) % 180;
  return Math.abs(turned - half) <= 90 ? half : half + 180;
}

const corner = (footprint: Footprint): Point => (footprint.tiles[0]?.[0] ?? [0, 0]) as Point;
