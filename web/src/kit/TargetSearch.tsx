import { useQuery } from "@tanstack/react-query";
import { Input } from "antd";
import { useDeferredValue, useState } from "react";
import { api, data, words } from "../api/client";
import type { Target } from "../api/types";
import { terms } from "../terms/kit";
import { Num } from "./Calculated";
import { degrees, hours } from "./quantity";

/** Finds a catalogue object by any alias. */
export function TargetSearch({
  label,
  begins = "",
  onPick,
}: {
  label: string;
  begins?: string;
  onPick: (target: Target) => void;
}) {
  const [text, setText] = useState(begins);
  const q = useDeferredValue(text.trim());
  const found = useQuery({
    queryKey: ["search", q],
    enabled: q.length > 0,
    queryFn: () => data(api.GET("/api/v1/sky/search", { params: { query: { q, limit: 8 } } })),
    placeholderData: (before) => before,
  });
  return (
    <div data-testid="target-search" className="target-search">
      <Input
        autoFocus
        aria-label={label}
        placeholder={terms.ngc891M81Veil}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onPressEnter={() => found.data?.[0] && q && onPick(found.data[0])}
      />
      {found.error && <p className="fault">{words(found.error)}</p>}
      {q && found.data?.length === 0 && <p className="quiet">{terms.nothingOfThatNameNumbersAnd}</p>}
      {q && (
        <ul>
          {found.data?.map((target) => (
            <li key={target.id}>
              <button type="button" onClick={() => onPick(target)}>
                <strong>{target.name}</strong>
                <span className="quiet">{target.aliases?.slice(0, 3).join(", ")}</span>
                <span className="quiet num">
                  <Num of="Target.ra_deg" still>
                    {hours(target.ra_deg)}
                  </Num>{" "}
                  <Num of="Target.dec_deg" still>
                    {degrees(target.dec_deg)}
                  </Num>
                  {target.major_arcmin ? ` · ${target.major_arcmin}′` : terms.sizeUnknown}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
