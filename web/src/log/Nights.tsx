/** The list of nights, newest first, a page at a time. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { SessionRecord } from "../api/types";
import { Pages } from "../kit/Pages";
import { hoursWords } from "../kit/quantity";
import { dayWords } from "../kit/words";

const PAGE = 60;

export const sum = (record: SessionRecord, of: "planned" | "taken" | "kept") =>
  (record.subs ?? []).reduce((all, one) => all + one[of], 0);

/** "Heron, rehearsed: 57 of 60 subs kept; lost: 3 cloud" */
export function told(record: SessionRecord): string {
  const lost = (record.losses ?? []).map((one) => `${one.count} ${one.why}`).join(", ");
  const kept = `${sum(record, "kept")} of ${sum(record, "planned")} subs kept`;
  return `${record.rig}${record.simulated ? ", rehearsed" : ""}: ${kept}${lost ? `; lost: ${lost}` : ""}`;
}

export function Nights({ open, chosen }: { open: (id: string) => void; chosen: string | null }) {
  const [first, setFirst] = useState(0);
  const page = useQuery({
    queryKey: ["sessions", first],
    queryFn: () => data(api.GET("/api/v1/sessions", { params: { query: { first, most: PAGE } } })),
    placeholderData: (before) => before,
  });
  if (page.error) return <p className="fault">{words(page.error)}</p>;
  if (!page.data) return null;
  if (page.data.of === 0)
    return (
      <p className="empty">
        No night is logged yet. Run one or rehearse it on Tonight, measure frames on a rig’s Proof step, or
        type it in a minute.
      </p>
    );
  return (
    <section aria-label="Nights">
      <Pages what="nights" from={first} most={PAGE} of={page.data.of} go={setFirst} />
      <ul className="plain-list night-rows" data-testid="sessions">
        {page.data.sessions.map(({ id, record, frames, pictures }) => (
          <li key={id}>
            <button type="button" aria-current={id === chosen ? "true" : undefined} onClick={() => open(id)}>
              <span className="num">{dayWords(record.night)}</span>
              <strong>{record.rig}</strong>
              <span>{[...new Set((record.subs ?? []).map((one) => one.name || one.target))].join(", ")}</span>
              <span className="num">
                {hoursWords((record.subs ?? []).reduce((all, one) => all + one.kept * one.sub_s, 0) / 3600)}
              </span>
              <span className="quiet">
                {told(record).replace(/^[^:]*: /, "")}
                {record.simulated && " · rehearsed"}
                {frames > 0 && ` · ${frames} frames`}
                {pictures.length > 0 && ` · ${pictures.length} pictures`}
                {(record.marks ?? []).length > 0 && ` · ${record.marks?.length} marks`}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
