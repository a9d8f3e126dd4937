/** Marks of a night: what stood where when it worked. */

import { useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { api, data } from "../api/client";
import type { MarkSortShown, WorkedMark } from "../api/types";
import { Num } from "../kit/Calculated";
import { QuantityInput } from "../kit/QuantityInput";
import { plain, withUnit } from "../kit/quantity";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { phrase } from "../terms/phrase";

interface Props {
  marks: readonly WorkedMark[];
  set: (marks: WorkedMark[]) => void;
  filters: readonly string[];
  weights: readonly string[];
  targets: readonly string[];
  warm: number | null;
}

export function MarkFields({ marks, set, filters, weights, targets, warm }: Props) {
  const sorts = useQuery({
    queryKey: ["mark-sorts"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => data(api.GET("/api/v1/sessions/sorts")),
  });
  const [sort, setSort] = useState<MarkSortShown["sort"]>("saddle");
  const [of, setOf] = useState("");
  const [value, setValue] = useState<number | null>(null);
  const [count, setCount] = useState(0);
  const shown = sorts.data?.find((one) => one.sort === sort);
  const belongs: Partial<Record<MarkSortShown["sort"], readonly string[]>> = {
    weight: weights,
    camera_angle: targets,
    drawtube: filters,
    focuser: filters,
  };
  const choices = belongs[sort] ?? [];
  const own = choices.includes(of) ? of : (choices[0] ?? "");
  const add = () => {
    if (value === null) return;
    const focus = sort === "drawtube" || sort === "focuser";
    set([...marks, { sort, value, of: own, temperature_c: focus ? warm : null, at: null }]);
    setValue(null);
    setCount(count + 1);
  };
  if (!shown) return null;
  return (
    <fieldset className="mark-fields">
      <legend>{terms.marksThatWorked}</legend>
      {marks.map((one, k) => {
        const what = sorts.data?.find((entry) => entry.sort === one.sort);
        return (
          <span key={k} className="mark-chip num">
            {what?.title}
            {one.of ? ` (${one.of})` : ""}:{" "}
            <Num of="WorkedMark.value">{withUnit(one.value, what?.unit ?? "")}</Num>
            <Num of="WorkedMark.temperature_c">
              {one.temperature_c != null &&
                phrase(terms.atTemperatureCC, { temperature_c: plain(one.temperature_c) })}
            </Num>{" "}
            <button
              type="button"
              className="link"
              aria-label={phrase(common.leaveOutTitle, { title: what?.title })}
              onClick={() => set(marks.filter((_, i) => i !== k))}
            >
              ×
            </button>
          </span>
        );
      })}
      <div className="part-fields">
        <label className="stacked">
          {terms.whatStoodWhere}
          <Select
            aria-label={terms.whatWasMarked}
            value={sort}
            popupMatchSelectWidth={false}
            options={sorts.data?.map((one) => ({ value: one.sort, label: `${one.title}, ${one.unit}` }))}
            onChange={setSort}
          />
        </label>
        {choices.length > 0 && (
          <label className="stacked">
            {terms.of}
            <Select
              aria-label={terms.ofWhich}
              value={own}
              popupMatchSelectWidth={false}
              options={choices.map((name) => ({ value: name, label: name }))}
              onChange={setOf}
            />
          </label>
        )}
        <QuantityInput
          key={`${sort} ${count}`}
          label={terms.readAs}
          unit={shown.unit}
          low={shown.low}
          high={shown.high}
          value={value}
          onChange={(next, valid) => valid && setValue(next)}
        />
        <Button onClick={add} disabled={value === null}>
          {terms.keepThisMark}
        </Button>
      </div>
    </fieldset>
  );
}
