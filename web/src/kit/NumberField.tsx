import FIELDS from "../api/generated/fields.json";
import { inLanguage } from "../terms/language";
import { QuantityInput } from "./QuantityInput";

const TITLES = inLanguage(
  "fields",
  Object.fromEntries(Object.entries(FIELDS).map(([name, { title }]) => [name, title])) as Record<
    keyof typeof FIELDS,
    string
  >,
);

export type FieldName = keyof typeof FIELDS;

interface Described {
  unit: string;
  low: number;
  high: number;
  empty?: boolean;
  whole?: boolean;
}

interface Props {
  /** The model's own field: its title, unit, range, and whether it may be empty or must be whole. */
  of: FieldName;
  /** Where the words around it say more than the field's title. */
  label?: string;
  /** Where less can be than the field takes: the way a tube can slide in its saddle. */
  within?: readonly [number, number];
  /** Of something that is only being begun: nothing typed yet is no fault. */
  begun?: boolean;
  value: number | null;
  /** Hears what can be kept, nothing else. */
  onChange: (value: number | null) => void;
}

/** A number of the model, typed in the field's own terms. */
export function NumberField({ of, label, within, begun = false, value, onChange }: Props) {
  const { unit, low, high, empty, whole }: Described = FIELDS[of];
  return (
    <QuantityInput
      label={label ?? TITLES[of]}
      unit={unit}
      low={within?.[0] ?? low}
      high={within?.[1] ?? high}
      required={!empty && !begun}
      whole={whole}
      value={value}
      onChange={(next, valid) => valid && (next !== null || empty || begun) && onChange(next)}
    />
  );
}
