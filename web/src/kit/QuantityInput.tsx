import { Input } from "antd";
import { useEffect, useRef, useState } from "react";
import { usePreferencesUnits } from "../preferences/usePreferences";
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
import { plain, readings, shown } from "./quantity";

interface Props {
  label: string;
  unit: string;
  low: number;
  high: number;
  value: number | null;
  whole?: boolean;
  required?: boolean;
  serverFault?: string;
  onChange: (value: number | null, valid: boolean) => void;
}

/** A number with its unit, typed with or without one ("2in"), checked in place; what was typed always stays. */
export function QuantityInput({
  label,
  unit,
  low,
  high,
  value,
  whole,
  required,
  serverFault,
  onChange,
}: Props) {
  const units = usePreferencesUnits();
  const spoken = (given: number | null) => (given === null ? "" : plain(shown(given, unit, units).value, 4));
  const [text, setText] = useState(spoken(value));
  const [typing, setTyping] = useState(false);
  // Nothing typed yet is no fault before the field was left.
  const [left, setLeft] = useState(value !== null);
  const valid = useRef(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text follows the value only while nobody types
  useEffect(() => {
    if (!typing) setText(spoken(value));
  }, [value, units]);
  const read = readings(text, unit, units);
  const number = read.find((one) => one >= low - 1e-9 && one <= high + 1e-9) ?? read[0] ?? null;
  const range = phrase(terms.plainToPlain2Unit, {
    plain: plain(shown(low, unit, units).value),
    plain2: plain(shown(high, unit, units).value),
    unit: shown(low, unit, units).unit,
  }).trim();
  const fault =
    text.trim() === ""
      ? required && left
        ? phrase(terms.isMissingAcceptedIsRange, { range })
        : ""
      : number === null
        ? phrase(terms.isNotANumberAcceptedIs, { range })
        : number < low - 1e-9 || number > high + 1e-9
          ? phrase(terms.liesOutsideWhatCanBeAccepted, { range })
          : whole && !Number.isInteger(Math.round(number * 1e6) / 1e6)
            ? terms.mustBeAWholeNumber
            : "";
  const said = fault || serverFault || "";
  const finish = () => {
    setTyping(false);
    setLeft(true);
    // What is shown is rounded: left as it is, it means the value it stands for.
    const same = text.trim() === spoken(value);
    const given = same ? value : text.trim() === "" ? null : number;
    const wrong = fault !== "" || (required === true && given === null);
    if (wrong) onChange(value, false);
    else if (!same || !valid.current) onChange(given, true);
    valid.current = !wrong;
  };
  return (
    <label data-testid="quantity" className={`quantity ${said ? "wrong" : ""}`}>
      <span className="quantity-label">{label}</span>
      <Input
        value={text}
        aria-label={label}
        suffix={<span className="quiet">{shown(0, unit, units).unit}</span>}
        status={said ? "error" : undefined}
        aria-invalid={said !== ""}
        onFocus={() => setTyping(true)}
        onChange={(event) => setText(event.target.value)}
        onBlur={finish}
        onPressEnter={finish}
      />
      {said && (
        <span className="fault" role="alert">
          {said}
        </span>
      )}
    </label>
  );
}
