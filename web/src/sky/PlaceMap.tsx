/** A coarse map of the world to pick a place on: click, drag, or arrow keys; closer with + and −. */
import { geoEquirectangular, geoGraticule10, geoPath } from "d3-geo";
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from "react";
import { feature } from "topojson-client";
import land from "world-atlas/land-110m.json";
import { inPicture } from "../drawing/pointer";

const WIDTH = 620;
const HEIGHT = 240;
const CLOSEST = 12;
// The package's JSON is a topology; its own types are wider than what TypeScript infers from the file.
const topology = land as unknown as Parameters<typeof feature>[0];
const SHORES = feature(topology, topology.objects.land as never);

interface Props {
  latitude: number;
  longitude: number;
  onPick: (latitude: number, longitude: number) => void;
}

export default function PlaceMap({ latitude, longitude, onPick }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [zoom, setZoom] = useState(1);
  const [held, setHeld] = useState<{ lat: number; lon: number } | null>(null);
  const { lat, lon } = held ?? { lat: latitude, lon: longitude };
  const projection = useMemo(() => {
    const scale = (WIDTH / (2 * Math.PI)) * zoom;
    const made = geoEquirectangular()
      .scale(scale)
      .translate([WIDTH / 2, HEIGHT / 2]);
    // Close up the place stands in the middle; the whole world stays where it is.
    return zoom > 1 ? made.center([longitude, latitude]) : made;
  }, [zoom, latitude, longitude]);
  const shapes = useMemo(() => {
    const path = geoPath(projection);
    return { shores: path(SHORES) ?? "", lines: path(geoGraticule10()) ?? "" };
  }, [projection]);
  const at = projection([lon, lat]) ?? [0, 0];
  const step = zoom >= 4 ? 0.1 : 1;
  const rounded = (value: number, limit: number) => {
    const digits = zoom >= 4 ? 100 : 10;
    return Math.max(-limit, Math.min(limit, Math.round(value * digits) / digits));
  };
  const under = (event: PointerEvent) => {
    const at = inPicture(svg.current, event);
    const found = at && projection.invert?.([at.x, at.y]);
    return found ? { lat: rounded(found[1], 90), lon: rounded(((found[0] + 540) % 360) - 180, 180) } : null;
  };
  const keys = (event: KeyboardEvent) => {
    const by = (event.shiftKey ? 10 : 1) * step;
    const moves: Record<string, [number, number]> = {
      ArrowUp: [by, 0],
      ArrowDown: [-by, 0],
      ArrowLeft: [0, -by],
      ArrowRight: [0, by],
    };
    const move = moves[event.key];
    if (move) onPick(rounded(lat + move[0], 90), rounded(lon + move[1], 180));
    else if (event.key === "+" || event.key === "=") setZoom(Math.min(CLOSEST, zoom * 2));
    else if (event.key === "-") setZoom(Math.max(1, zoom / 2));
    else return;
    event.preventDefault();
  };
  return (
    <div className="place-map">
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="group"
        aria-label="Map of the world"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(under(event));
        }}
        onPointerMove={(event) => held && setHeld(under(event) ?? held)}
        onPointerUp={() => {
          if (held) onPick(held.lat, held.lon);
          setHeld(null);
        }}
        onPointerCancel={() => setHeld(null)}
      >
        <rect width={WIDTH} height={HEIGHT} className="sea" />
        <path d={shapes.lines} className="graticule" />
        <path d={shapes.shores} className="shores" />
        <g
          tabIndex={0}
          role="slider"
          aria-label="Place on the map"
          aria-valuenow={lat}
          aria-valuemin={-90}
          aria-valuemax={90}
          aria-valuetext={`latitude ${lat}°, longitude ${lon}°`}
          data-testid="place"
          className="place"
          onKeyDown={keys}
        >
          <path d={`M${at[0]} 0V${HEIGHT}M0 ${at[1]}H${WIDTH}`} />
          <circle cx={at[0]} cy={at[1]} r={5} />
        </g>
      </svg>
      <div className="zoom">
        <button
          type="button"
          aria-label="Closer on the map"
          onClick={() => setZoom(Math.min(CLOSEST, zoom * 2))}
        >
          +
        </button>
        <button type="button" aria-label="Wider on the map" onClick={() => setZoom(Math.max(1, zoom / 2))}>
          −
        </button>
      </div>
    </div>
  );
}
