/** A site's usual night temperatures by month: all twelve, or none. */
import { Button } from "antd";
import { useState } from "react";
import type { Site } from "../api/types";
import { NumberField } from "../kit/NumberField";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

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
        Night temperature by month{" "}
        <span className="quiet">
          {kept.length > 0
            ? "given: each night takes its own"
            : typed.some((one) => one !== null)
              ? "counts once all twelve are given"
              : "not given: the usual one counts all year"}
        </span>
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
          Fill the others with the usual one
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
          One usual temperature all year
        </Button>
      )}
    </details>
  );
}
