/** A month of nights drawn: how long each is dark, how much of that without the moon, what was shot and what is planned. */

import { Button } from "antd";
import type { MonthNight, MonthOfNights } from "../api/types";
import { Disc } from "../app/MoonDisc";
import { Num } from "../kit/Calculated";
import { fixed } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase } from "../terms/phrase";

const DAYS = [terms.mon, terms.tue, terms.wed, terms.thu, terms.fri, terms.sat, terms.sun];
const LONGEST_H = 16;

interface Props {
  month: MonthOfNights;
  go: (first: string) => void;
  type: (night: string) => void;
}

export function Month({ month, go, type }: Props) {
  const lead = month.nights[0]?.weekday ?? 0;
  return (
    <section aria-label={month.words.text} className="month" data-testid="month">
      <div className="month-head">
        <Button size="small" disabled={!month.before} onClick={() => month.before && go(month.before)}>
          {terms.monthBefore}
        </Button>
        <h2>
          <Says text={month.words} />
        </h2>
        <Button size="small" disabled={!month.after} onClick={() => month.after && go(month.after)}>
          {terms.monthAfter}
        </Button>
        <span className="quiet">{terms.barsDarkHoursBrightWithoutThe}</span>
        <a className="link" href={`/api/v1/log/calendar?month=${month.first}`} download>
          {terms.forACalendar}
        </a>
      </div>
      <ol className="month-grid">
        {DAYS.map((day) => (
          <li key={day} className="quiet month-day" aria-hidden="true">
            {day}
          </li>
        ))}
        {month.nights.map((night, k) => (
          <li key={night.day} style={k === 0 ? { gridColumnStart: lead + 1 } : undefined}>
            <Night night={night} type={type} today={night.day === month.today} />
          </li>
        ))}
      </ol>
    </section>
  );
}

function Night({ night, type, today }: { night: MonthNight; type: (night: string) => void; today: boolean }) {
  const shot = night.things.filter((one) => !one.planned && !one.simulated);
  const light = shot.reduce((sum, one) => sum + one.light_s / 3600, 0);
  const said = night.things
    .map(
      (one) =>
        `${one.rig}${one.planned ? " planned" : ""}${one.simulated ? " rehearsed" : ""}: ${one.words.text}`,
    )
    .join("; ");
  const share = (hours: number) => `${(Math.min(hours, LONGEST_H) / LONGEST_H) * 100}%`;
  return (
    <button
      type="button"
      className={`month-night ${shot.length > 0 ? "shot" : ""} ${today ? "this-night" : ""}`}
      aria-label={`${night.words.text}${said ? `. ${said}` : ""}`}
      title={night.words.text}
      onClick={() => type(night.day)}
    >
      <span className="month-top num">
        <span>
          {Number(night.day.slice(8))}
          {today && <span className="tonight-word"> {common.tonight}</span>}
        </span>{" "}
        <Disc lit={night.lit} waxing={night.waxing} />
      </span>
      <svg className="dark-bar" width="100%" height="7" aria-hidden="true">
        <rect width={share(night.dark_h)} height="7" className="bar-dark" />
        <rect width={share(night.moonless_h)} height="7" className="bar-moonless" />
        <rect y="4" width={share(light)} height="3" className="bar-light" />
      </svg>
      {night.things.slice(0, 2).map((one) => (
        <span
          key={`${one.rig} ${one.words.text} ${one.planned}`}
          className={one.planned ? "thing planned" : "thing"}
        >
          {one.rig}: <Says text={one.words} still />
          {one.light_s > 0 && (
            <span className="num">
              {" "}
              <Num of="MonthThing.light_s" still>
                {fixed(one.light_s / 3600, 1)}
              </Num>{" "}
              h
            </span>
          )}
        </span>
      ))}
      {night.things.length > 2 && (
        <span className="thing quiet">
          <Phrase of={terms.andThingsMore} with={{ things: night.things.length - 2 }} />
        </span>
      )}
    </button>
  );
}
