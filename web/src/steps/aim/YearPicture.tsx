/** The year strip: dark hours a night above the floor, week by week; the moonless share is the bright part. */

import type { YearStrip } from "../../api/types";
import { fixed } from "../../kit/quantity";

const WIDTH = 640;
const HEIGHT = 128;
const FOOT = 18;
const LEFT = 26;

export function YearPicture({ year, onPick }: { year: YearStrip; onPick: (night: string) => void }) {
  const top = Math.max(2, ...year.weeks.map((week) => week.hours));
  const step = (WIDTH - LEFT - 4) / year.weeks.length;
  const y = (hours: number) => HEIGHT - FOOT - (hours / top) * (HEIGHT - FOOT - 8);
  const best = new Set(year.best.map((week) => week.first));
  let month = "";
  return (
    <svg
      className="night-picture"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="group"
      aria-label={`Year: ${year.words}`}
    >
      <text x={2} y={y(top) + 9}>
        {fixed(top, 0)} h
      </text>
      {year.weeks.map((week, i) => {
        const x = LEFT + i * step;
        const name = new Date(`${week.first}T12:00:00Z`).toLocaleString("en-GB", {
          month: "short",
          timeZone: "UTC",
        });
        const next = year.weeks[i + 2]?.first.slice(5, 7);
        // A month of which little is left is not named: its name would run into the next.
        const fresh = name !== month && next === week.first.slice(5, 7);
        month = name;
        return (
          <g key={week.first}>
            <rect
              x={x}
              y={4}
              width={step}
              height={HEIGHT - FOOT - 4}
              className="week"
              role="button"
              tabIndex={0}
              aria-label={`Week of ${week.first}: ${fixed(week.hours, 1)} hours a night, ${fixed(week.moonless * 100, 0)} % moonless`}
              onClick={() => onPick(week.first)}
              onKeyDown={(event) => {
                if (event.key === "Enter" || event.key === " ") {
                  event.preventDefault();
                  onPick(week.first);
                }
              }}
            >
              <title>{`${week.first}: ${fixed(week.hours, 1)} h a night`}</title>
            </rect>
            <rect
              x={x + 1}
              y={y(week.hours)}
              width={step - 2}
              height={HEIGHT - FOOT - y(week.hours)}
              className="week-all"
            />
            <rect
              x={x + 1}
              y={y(week.hours * week.moonless)}
              width={step - 2}
              height={HEIGHT - FOOT - y(week.hours * week.moonless)}
              className={`week-moonless ${best.has(week.first) ? "best" : ""}`}
            />
            {fresh && (
              <text x={x} y={HEIGHT - 4}>
                {name}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
