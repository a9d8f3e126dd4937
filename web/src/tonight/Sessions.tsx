/** Nights that were run or rehearsed: what was kept of what was planned, and why the rest was lost. */
import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { SessionKept } from "../api/types";

type Record = SessionKept["record"];

export const sum = (record: Record, of: "planned" | "taken" | "kept") =>
  (record.subs ?? []).reduce((all, one) => all + one[of], 0);

export function told(record: Record): string {
  const lost = (record.losses ?? []).map((one) => `${one.count} ${one.why}`).join(", ");
  const kept = `${sum(record, "kept")} of ${sum(record, "planned")} subs kept`;
  return `${record.rig}${record.simulated ? ", rehearsed" : ""}: ${kept}${lost ? `; lost: ${lost}` : ""}`;
}

export function Sessions() {
  const list = useQuery({ queryKey: ["sessions"], queryFn: () => data(api.GET("/api/v1/sessions")) });
  if (!list.data) return null;
  if (list.data.length === 0) return <p className="empty">No night was run yet, nor rehearsed.</p>;
  return (
    <ul className="plain-list" data-testid="sessions">
      {list.data.map(({ id, record }) => (
        <li key={id}>
          <details>
            <summary>
              <span className="num">{record.night}</span> {told(record)}
            </summary>
            <ul className="plain-list session-events">
              {(record.subs ?? []).map((one) => (
                <li key={`${one.target} ${one.filter} ${one.sub_s}`}>
                  {one.target}
                  {one.filter && `, ${one.filter}`}:{" "}
                  <span className="num">
                    {one.planned} × {one.sub_s} s planned, {one.taken} taken, {one.kept} kept
                  </span>
                </li>
              ))}
              {(record.events ?? []).map((one) => (
                <li key={`${one.at} ${one.what}`}>
                  <span className="quiet num">{one.at.slice(11, 16)} UT</span> {one.what}
                </li>
              ))}
            </ul>
          </details>
        </li>
      ))}
    </ul>
  );
}
