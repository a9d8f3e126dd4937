/** Filters of the shelf as bars over the spectrum, with the target's lines; best first, hours to the wish beside. */
import type { ExposureView } from "../../api/types";
import { Plot, press } from "../../kit/plot";
import { terms } from "../../terms/exposure";
import { phrase } from "../../terms/phrase";

type One = ExposureView["filters"][number];

const WIDTH = 480;
const ROW = 22;
const [FROM, TO] = [170, 404];

export function FilterBars({ view, take }: { view: ExposureView; take: (one: One) => void }) {
  const [low, high] = view.spectrum;
  const x = (nm: number) => FROM + ((Math.min(Math.max(nm, low), high) - low) / (high - low)) * (TO - FROM);
  const bottom = view.filters.length * ROW + 8;
  const words = (one: One) =>
    phrase(terms.nameHoursWordsToTheWish, {
      name: one.name,
      hours_words: one.hours_words.text,
      reason: one.reason.text,
      which: one.in_use
        ? terms.inTheLight
        : one.carried
          ? terms.carried
          : one.fits
            ? terms.onTheShelfAndFits
            : terms.onTheShelfFitsNoHolder,
    });
  return (
    <Plot
      width={WIDTH}
      height={bottom + 32}
      name="filter-bars"
      className="filter-bars"
      label={terms.filtersOverTheLightBestFirst}
      rest={phrase(terms.hoursOfLightToSignalTo, { wished: view.wished })}
    >
      {view.lamps && (
        <rect
          className="lamps"
          x={x(view.lamps[0])}
          width={x(view.lamps[1]) - x(view.lamps[0])}
          y={4}
          height={bottom - 4}
        >
          <title>{terms.streetLight}</title>
        </rect>
      )}
      {view.lines.map(([name, nm]) => (
        <g key={name} className="line-of-light">
          <line x1={x(nm)} x2={x(nm)} y1={4} y2={bottom} />
          <text x={x(nm)} y={bottom + (name === "SII" ? 26 : 13)} textAnchor="middle">
            {name}
          </text>
        </g>
      ))}
      {view.filters.map((one, i) => (
        <g
          key={one.key ?? "none"}
          transform={`translate(0 ${i * ROW + 6})`}
          className={`filter-row ${one.in_use ? "in-use" : ""} ${one.carried || one.fits ? "fitting" : ""}`}
          data-says={words(one)}
          aria-label={words(one)}
          {...(one.carried && !one.in_use ? press(() => take(one)) : {})}
        >
          <rect className="under" width={WIDTH} height={ROW - 2} />
          <text x={4} y={14}>
            {one.name.length > 28 ? `${one.name.slice(0, 27)}…` : one.name}
          </text>
          {one.bands.map(([from, to, passes]) => (
            <rect
              key={from}
              className="band"
              x={x(from)}
              width={Math.max(3, x(to) - x(from))}
              y={3}
              height={13}
              fillOpacity={0.35 + 0.6 * passes}
            />
          ))}
          <text
            data-figure="ExposureFilter.hours_words"
            x={WIDTH - 6}
            y={14}
            textAnchor="end"
            className="num"
          >
            {one.hours_words.text}
          </text>
        </g>
      ))}
    </Plot>
  );
}
