/** The year strip: dark hours a night above the floor, week by week; the moonless share is the bright part. */
import { useRef } from "react";
import { Bar, BarChart, Cell, XAxis, YAxis } from "recharts";
import type { YearStrip } from "../../api/types";
import { Active, AXIS, Chart, said } from "../../kit/chart";
import { fixed } from "../../kit/quantity";
import { dayWords } from "../../kit/words";
import { terms } from "../../terms/aim";
import { phrase } from "../../terms/phrase";

const monthOf = (day: string) =>
  new Date(`${day}T12:00:00Z`).toLocaleString("en-GB", { month: "short", timeZone: "UTC" });

export function YearPicture({ year, onPick }: { year: YearStrip; onPick: (night: string) => void }) {
  const active = useRef<number | null>(null);
  const best = new Set(year.best.map((week) => week.first));
  const weeks = year.weeks.map((week, at) => ({
    ...week,
    at,
    bright: week.hours * week.moonless,
    moonlit: week.hours * (1 - week.moonless),
  }));
  // The first whole week of a month carries its name.
  const months = weeks.filter(
    ({ at, first }) => at > 0 && monthOf(first) !== monthOf(weeks[at - 1]?.first ?? first),
  );
  const pick = (at: number | null) => {
    const week = at === null ? undefined : weeks[at];
    if (week) onPick(week.first);
  };
  const words = (at: number) => {
    const week = weeks[at];
    if (!week) return "";
    return phrase(terms.weekOfFirstHoursHA, {
      first: dayWords(week.first),
      hours: fixed(week.hours, 1),
      moonless: fixed(week.moonless * 100, 0),
    });
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter on the chart in focus; the chart itself is the control
    <div
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        pick(active.current);
      }}
    >
      <Chart
        name="year-picture"
        label={phrase(terms.yearYearEnterPlansForThe, { year: year.words.text })}
        height={132}
      >
        <BarChart
          data={weeks}
          barCategoryGap={1}
          margin={{ top: 4, right: 4, bottom: 0, left: 0 }}
          onClick={({ activeLabel }) => pick(activeLabel === undefined ? null : Number(activeLabel))}
        >
          <XAxis
            {...AXIS}
            dataKey="at"
            ticks={months.map(({ at }) => at)}
            tickFormatter={(at: number) => monthOf(weeks[at]?.first ?? "")}
            interval={0}
            height={18}
          />
          <YAxis
            {...AXIS}
            width={30}
            tickCount={3}
            allowDecimals={false}
            tickFormatter={(hours: number) => `${hours} h`}
          />
          <Bar dataKey="bright" stackId="week" isAnimationActive={false}>
            {weeks.map(({ first }) => (
              <Cell key={first} fill={best.has(first) ? "var(--brass)" : "var(--glass)"} />
            ))}
          </Bar>
          <Bar
            dataKey="moonlit"
            stackId="week"
            fill="color-mix(in srgb, var(--glass) 30%, var(--ink))"
            isAnimationActive={false}
          />
          {said(words)}
          <Active
            tell={(at) => {
              active.current = at;
            }}
          />
        </BarChart>
      </Chart>
    </div>
  );
}
