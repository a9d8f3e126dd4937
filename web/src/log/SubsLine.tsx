/** Subs of one target behind one filter. */
import { Button, Input, Select } from "antd";
import type { SessionSubs } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { UNTYPED, withTaken } from "./draft";

interface Choice {
  value: string;
  label: string;
}
interface Props {
  one: SessionSubs;
  targets: readonly Choice[];
  filters: readonly string[];
  set: (next: SessionSubs) => void;
  leave?: () => void;
}

export function SubsLine({ one, targets, filters, set, leave }: Props) {
  // What was shot stays to be chosen when the rig no longer has it.
  const known = targets.some(({ value }) => value === one.target) || !one.target;
  const targetsHere = known ? targets : [...targets, { value: one.target, label: one.name || one.target }];
  const filtersHere = filters.includes(one.filter) || !one.filter ? filters : [...filters, one.filter];
  return (
    <div className="part-fields subs-line">
      <label className="stacked">
        {terms.target}
        {targets.length > 0 ? (
          <Select
            aria-label={terms.targetOfTheSubs}
            showSearch={{ optionFilterProp: "label" }}
            value={one.target || undefined}
            options={[...targetsHere]}
            onChange={(target: string) =>
              set({ ...one, target, name: targetsHere.find(({ value }) => value === target)?.label ?? "" })
            }
          />
        ) : (
          <Input
            aria-label={terms.targetOfTheSubs}
            maxLength={120}
            value={one.name || one.target}
            onChange={({ target: { value } }) => set({ ...one, target: value, name: value })}
          />
        )}
      </label>
      <label className="stacked">
        {terms.filter}
        <Select
          aria-label={terms.filterOfTheSubs}
          value={one.filter || ""}
          options={[
            { value: "", label: common.none },
            ...filtersHere.map((name) => ({ value: name, label: name })),
          ]}
          onChange={(filter: string) => set({ ...one, filter })}
        />
      </label>
      <NumberField
        of="SessionSubs.sub_s"
        value={one.sub_s === UNTYPED ? null : one.sub_s}
        onChange={(sub_s) => sub_s !== null && set({ ...one, sub_s })}
      />
      <NumberField
        of="SessionSubs.taken"
        value={one.taken}
        onChange={(taken) => taken !== null && set(withTaken(one, taken))}
      />
      <NumberField
        of="SessionSubs.kept"
        within={[0, one.taken]}
        value={one.kept}
        onChange={(kept) => kept !== null && set({ ...one, kept })}
      />
      {leave && (
        <Button size="small" onClick={leave}>
          {terms.leaveOut}
        </Button>
      )}
    </div>
  );
}
