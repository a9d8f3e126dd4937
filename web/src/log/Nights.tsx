/** The list of nights, newest first, a page at a time. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { SessionRecord } from "../api/types";
import { Num } from "../kit/Calculated";
import { Pages } from "../kit/Pages";
import { hoursWords } from "../kit/quantity";
import { dayWords } from "../kit/words";
import { terms } from "../terms/log";
import { phrase } from "../terms/phrase";

const PAGE = 60;

export const sum = (record: SessionRecord, of: "planned" | "taken" | "kept") =>
  (record.subs ?? []).reduce((all, one) => all + one[of], 0);

/** "Heron, rehearsed: 57 of 60 subs kept; lost: 3 cloud" */
export function told(record: SessionRecord): string {
  const lost = (record.losses ?? []).map((one) => `${one.count} ${one.why}`).join(", ");
  const kept = phrase(terms.recordOfRecord2SubsKept, {
    record: sum(record, "kept"),
    record2: sum(record, "planned"),
  });
  return `${record.rig}${record.simulated ? terms.rehearsed : ""}: ${kept}${lost ? phrase(terms.lostLost, { lost }) : ""}`;
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
  if (page.data.of === 0) return <p className="empty">{terms.noNightIsLoggedYetRun}</p>;
  return (
    <section aria-label={terms.nights}>
      <Pages what={terms.nights2} from={first} most={PAGE} of={page.data.of} go={setFirst} />
      <ul className="plain-list night-rows" data-testid="sessions">
        {page.data.sessions.map(({ id, record, frames, pictures }) => (
          <li key={id}>
            <button type="button" aria-current={id === chosen ? "true" : undefined} onClick={() => open(id)}>
              <span className="num">{dayWords(record.night)}</span>
              <strong>{record.rig}</strong>
              <span>{[...new Set((record.subs ?? []).map((one) => one.name || one.target))].join(", ")}</span>
              <span className="num">
                <Num of="SessionSubs.kept" still>
                  {hoursWords((record.subs ?? []).reduce((all, one) => all + one.kept * one.sub_s, 0) / 3600)}
                </Num>
              </span>
              <span className="quiet">
                {told(record).replace(/^[^:]*: /, "")}
                {record.simulated && terms.rehearsed2}
                {frames > 0 && phrase(terms.framesFrames, { frames })}
                {pictures.length > 0 && phrase(terms.picturesPictures, { pictures: pictures.length })}
                {(record.marks ?? []).length > 0 && phrase(terms.marksMarks, { marks: record.marks?.length })}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
