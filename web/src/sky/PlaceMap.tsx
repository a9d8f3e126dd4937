/** A coarse map of the world to pick a place on: click, drag, or arrow keys; closer with + and −. */
import { geoEquirectangular, geoGraticule10, geoPath } from "d3-geo";
import { type KeyboardEvent, useMemo, useState } from "react";
import { feature } from "topojson-client";
import land from "world-atlas/land-110m.json";
import { type At, arrow, Plot, slider, useHand } from "../kit/plot";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/sky";

const WIDTH = 620;
const HEIGHT = 240;
const CLOSEST = 12;
// The package's JSON is a topology; its own types are wider than what TypeScript infers from the file.
const topology = land as unknown as Parameters<typeof feature>[0];
const SHORES = feature(topology, topology.objects.land as never);

interface Place {
  lat: number;
  lon: number;
}

interface Props {
  latitude: number;
  longitude: number;
  /** No place yet: nothing is marked, and the first touch sets it. */
  unset?: boolean;
  onPick: (latitude: number, longitude: number) => void;
}

export default function PlaceMap({ latitude, longitude, unset = false, onPick }: Props) {
  const [zoom, setZoom] = useState(1);
  const [shown, setShown] = useState<Place | null>(null);
  const { lat, lon } = shown ?? { lat: latitude, lon: longitude };
  const hand = useHand<Place>({
    preview: setShown,
    settle: ({ lat, lon }) => {
      setShown(null);
      onPick(lat, lon);
    },
    giveUp: () => setShown(null),
  });
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
  const under = ({ x, y }: At): Place => {
    const found = projection.invert?.([x, y]) ?? [lon, lat];
    return { lat: rounded(found[1], 90), lon: rounded(((found[0] + 540) % 360) - 180, 180) };
  };
  const keys = (event: KeyboardEvent) => {
    const by = arrow(event);
    if (by)
      hand.nudge({ lat: rounded(lat + by.y * step, 90), lon: rounded(lon + by.x * step, 180) }, "place");
    else if (event.key === "+" || event.key === "=") setZoom(Math.min(CLOSEST, zoom * 2));
    else if (event.key === "-") setZoom(Math.max(1, zoom / 2));
    else return;
    event.preventDefault();
  };
  return (
    <div className="place-map">
      <Plot
        hand={hand}
        width={WIDTH}
        height={HEIGHT}
        label={terms.mapOfTheWorld}
        svg={{
          onPointerDown: hand.take({ note: terms.place, still: true, change: (_from, to) => under(to) }),
        }}
      >
        <rect width={WIDTH} height={HEIGHT} className="sea" />
        <path d={shapes.lines} className="graticule" />
        <path d={shapes.shores} className="shores" />
        <g
          data-testid="place"
          className={unset && !shown ? "place unset" : "place"}
          {...slider(
            terms.placeOnTheMap,
            lat,
            [-90, 90],
            phrase(terms.latitudeLatLongitudeLon, { lat, lon }),
            {
              onKeyDown: keys,
            },
          )}
        >
          <path d={`M${at[0]} 0V${HEIGHT}M0 ${at[1]}H${WIDTH}`} />
          <circle cx={at[0]} cy={at[1]} r={5} />
        </g>
      </Plot>
      <div className="zoom">
        <button
          type="button"
          aria-label={terms.closerOnTheMap}
          onClick={() => setZoom(Math.min(CLOSEST, zoom * 2))}
        >
          +
        </button>
        <button type="button" aria-label={terms.widerOnTheMap} onClick={() => setZoom(Math.max(1, zoom / 2))}>
          −
        </button>
      </div>
    </div>
  );
}
