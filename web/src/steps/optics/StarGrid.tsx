import type { OpticsView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { plain } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms } from "../../terms/optics";
import { Phrase, phrase } from "../../terms/phrase";

const SIZE = 176;

/** A star at true proportion: how much light falls on each pixel, its width, and what makes it that wide. */
export function StarGrid({ star }: { star: NonNullable<OpticsView["star"]> }) {
  const count = star.flux.length;
  const cell = SIZE / count;
  const widest = Math.max(...star.terms.map((term) => term.fwhm_px));
  return (
    <div className="star-grid">
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="img"
        aria-label={phrase(terms.starFwhmPxPixelsWide, { fwhm_px: plain(star.fwhm_px, 1) })}
      >
        <rect width={SIZE} height={SIZE} className="sky-ground" />
        {star.flux.map((line, row) =>
          line.map((flux, column) => (
            <rect
              key={`${row}-${column}`}
              x={column * cell}
              y={row * cell}
              width={cell - 0.7}
              height={cell - 0.7}
              className="pixel"
              // Eyes and screens are not linear: the square root keeps the wings visible.
              fillOpacity={0.05 + 0.95 * Math.sqrt(flux)}
            />
          )),
        )}
        <circle cx={SIZE / 2} cy={SIZE / 2} r={(star.fwhm_px * cell) / 2} className="fwhm" />
      </svg>
      <table className="terms">
        <tbody>
          {star.terms.map((term) => (
            <tr key={term.name.text}>
              <th scope="row">
                <Says text={term.name} />
              </th>
              <td className="bar">
                <span style={{ width: `${(term.fwhm_px / widest) * 100}%` }} />
              </td>
              <td className="num">
                <Num of="OpticsStarTerm.fwhm_arcsec">{plain(term.fwhm_arcsec, 2)}</Num>″
              </td>
              <td className="num quiet">
                <Phrase
                  of={terms.fwhmPxPx}
                  with={{ fwhm_px: <Num of="OpticsStarTerm.fwhm_px">{plain(term.fwhm_px, 1)}</Num> }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
