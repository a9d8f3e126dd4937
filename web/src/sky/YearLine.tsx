/** A year in one line of a table: dark hours a night, week by week. */
import type { YearStrip } from "../api/types";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/sky";

const STEP = 2;
const HEIGHT = 18;

export function YearLine({ year }: { year: YearStrip }) {
  const best = new Set(year.best.map((week) => week.first));
  return (
    <svg
      className="year-line"
      width={year.weeks.length * STEP}
      height={HEIGHT}
      role="img"
      aria-label={phrase(terms.yearYear, { year: year.words.text })}
    >
      {year.weeks.map((week, i) => {
        const high = Math.min(1, week.hours / 12) * HEIGHT;
        return (
          <rect
            key={week.first}
            x={i * STEP}
            y={HEIGHT - high}
            width={STEP - 0.4}
            height={high}
            className={best.has(week.first) ? "best" : undefined}
          />
        );
      })}
    </svg>
  );
}
