/** One pixel over one sub: what falls into it, laid in layers, against what it holds. */

import type { ExposureView } from "../../api/types";
import { Plot } from "../../kit/plot";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/exposure";
import { phrase } from "../../terms/phrase";

type Well = NonNullable<ExposureView["well"]>;

const WIDTH = 250;
const HEIGHT = 250;
const [LEFT, WIDE, TOP, BOTTOM] = [10, 74, 26, HEIGHT - 10];

const count = (electrons: number) =>
  electrons >= 100 ? fixed(electrons, 0) : fixed(electrons, electrons < 10 ? 1 : 0);

export function PixelWell({ well, sub }: { well: Well; sub: number }) {
  const layers = [
    { key: "sky", words: terms.sky, e: well.sky },
    { key: "moon", words: terms.moon, e: well.moon },
    { key: "dark", words: terms.darkCurrent, e: well.dark },
    { key: "target", words: common.target, e: well.target },
  ].filter((one) => one.e > 0);
  const filled = layers.reduce((sum, one) => sum + one.e, 0);
  // A well that is hardly wetted is drawn near its bottom: the picture says how far it is drawn up.
  const shown =
    well.full == null ? filled * 1.25 : Math.min(well.full, Math.max(filled * 1.6, well.full / 4000));
  const cut = well.full != null && shown < well.full * 0.999;
  const high = (e: number) => (e / Math.max(shown, 1e-9)) * (BOTTOM - TOP);
  const noise = well.read_noise ** 2;
  let floor = BOTTOM;
  let words = BOTTOM + 12;
  return (
    <Plot
      width={WIDTH}
      height={HEIGHT}
      name="pixel-well"
      className="pixel-well"
      label={phrase(terms.onePixelOverSubSWell, { sub: fixed(sub, 0), well: well.words.text })}
      rest={<Says text={well.words} of="ExposureWell.words" />}
    >
      <text x={LEFT} y={14} className="num" data-figure="ExposureWell.full">
        {well.full == null
          ? terms.fullWellNotGiven
          : cut
            ? phrase(terms.theLowestShownOfFullE, { shown: count(shown), full: count(well.full) })
            : phrase(terms.fullWellFullE, { full: count(well.full) })}
      </text>
      {layers.map((one) => {
        const tall = Math.min(high(one.e), floor - TOP);
        floor -= tall;
        words = Math.min(words - 17, floor + tall / 2 + 4);
        return (
          <g
            key={one.key}
            className={`layer ${one.key}`}
            data-says={phrase(terms.wordsEEInSubS, { words: one.words, e: count(one.e), sub: fixed(sub, 0) })}
          >
            <rect x={LEFT} width={WIDE} y={floor} height={tall} />
            <text x={LEFT + WIDE + 10} y={words}>
              {one.words}
            </text>
            <text
              data-figure={`ExposureWell.${one.key}`}
              x={WIDTH - 6}
              y={words}
              textAnchor="end"
              className="num"
            >
              {count(one.e)}
            </text>
          </g>
        );
      })}
      <g
        className="layer read-noise"
        data-says={phrase(terms.readNoiseReadNoiseECounts, {
          read_noise: fixed(well.read_noise, 1),
          noise: count(noise),
        })}
      >
        <rect
          x={LEFT}
          width={WIDE}
          y={Math.max(TOP, floor - high(noise))}
          height={Math.min(high(noise), floor - TOP)}
        />
        <text x={LEFT + WIDE + 10} y={words - 17}>
          {terms.readNoise2}
        </text>
        <text
          data-figure="ExposureWell.read_noise"
          x={WIDTH - 6}
          y={words - 17}
          textAnchor="end"
          className="num"
        >
          {count(noise)}
        </text>
      </g>
      <path
        className={cut ? "well open" : "well"}
        d={`M${LEFT} ${TOP}V${BOTTOM}H${LEFT + WIDE}V${TOP}${cut ? "" : "Z"}`}
      />
    </Plot>
  );
}
