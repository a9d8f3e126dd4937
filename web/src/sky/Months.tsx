/** A site's usual night temperatures by month: all twelve, or none. */
import { Button } from "antd";
import { useState } from "react";
import type { Site } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/sky";

const MONTHS = [
  terms.jan,
  terms.feb,
  terms.mar,
  terms.apr,
  terms.may,
  terms.jun,
  terms.jul,
  terms.aug,
  terms.sep,
  terms.oct,
  terms.nov,
  terms.dec,
];

export function Months({ site, onChange }: { site: Site; onChange: (part: Partial<Site>) => void }) {
  const kept = site.month_c ?? [];
  const [typed, setTyped] = useState<(number | null)[]>(MONTHS.map((_, i) => kept[i] ?? null));
  const usual = site.night_temperature_c;
  const take = (months: (number | null)[]) => {
    setTyped(months);
    const whole = months.filter((one) => one !== null);
    if (whole.length === MONTHS.length) onChange({ month_c: whole });
  };
  return (
    <details className="wide months-of-site">
      <summary>
        <Phrase
          of={terms.nightTemperatureByMonthWhich}
          with={{
            which: (
              <span className="quiet">
                {kept.length > 0
                  ? terms.givenEachNightTakesItsOwn
                  : typed.some((one) => one !== null)
                    ? terms.countsOnceAllTwelveAreGiven
                    : terms.notGivenTheUsualOneCounts}
              </span>
            ),
          }}
        />
      </summary>
      <div className="month-fields">
        {MONTHS.map((name, i) => (
          <NumberField
            key={name}
            of="Site.night_temperature_c"
            label={name}
            value={typed[i] ?? null}
            onChange={(value) => take(typed.map((one, k) => (k === i ? value : one)))}
          />
        ))}
      </div>
      {kept.length === 0 && usual != null && (
        <Button size="small" onClick={() => take(typed.map((one) => one ?? usual))}>
          {terms.fillTheOthersWithTheUsual}
        </Button>
      )}
      {kept.length > 0 && (
        <Button
          size="small"
          onClick={() => {
            setTyped(MONTHS.map(() => null));
            onChange({ month_c: [] });
          }}
        >
          {terms.oneUsualTemperatureAllYear}
        </Button>
      )}
    </details>
  );
}
