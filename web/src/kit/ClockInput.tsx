/** A time on a clock, typed as people write it; what was typed stays. */
import { Input } from "antd";
import { useState } from "react";
import { terms } from "../terms/kit";

/** "21:30" of 21:30, 2130, 21.30, 9, 9:5; nothing of what is no time. */
export function clock(text: string): string | null {
  const match = /^\s*(\d{1,2})(?:\s*[:.h]\s*(\d{1,2})|(\d{2}))?\s*$/i.exec(text);
  if (!match) return null;
  const [hour, minute] = [Number(match[1]), Number(match[2] ?? match[3] ?? 0)];
  if (hour > 23 || minute > 59) return null;
  return `${String(hour).padStart(2, "0")}:${String(minute).padStart(2, "0")}`;
}

interface Props {
  label: string;
  title: string;
  value: string;
  onChange: (value: string) => void;
}

export function ClockInput({ label, title, value, onChange }: Props) {
  const [text, setText] = useState(value);
  const wrong = text.trim() !== "" && clock(text) === null;
  return (
    <label className={`stacked ${wrong ? "wrong" : ""}`}>
      {title}
      <Input
        aria-label={label}
        inputMode="numeric"
        placeholder={terms.hhMm}
        maxLength={8}
        value={text}
        status={wrong ? "error" : undefined}
        aria-invalid={wrong}
        onChange={(event) => {
          setText(event.target.value);
          const read = clock(event.target.value);
          if (read !== null || event.target.value.trim() === "") onChange(read ?? "");
        }}
        onBlur={() => setText((now) => clock(now) ?? now)}
      />
      {wrong && (
        <span className="fault" role="alert">
          {terms.notATime000023}
        </span>
      )}
    </label>
  );
}
