/** One field for everything: rigs, parts, targets, nights, marks, documents, rules, the sky. Enter opens the place. */
import { useQuery } from "@tanstack/react-query";
import { Input, Modal } from "antd";
import { useDeferredValue, useState } from "react";
import { useNavigate } from "react-router";
import { api, data, words } from "../api/client";
import type { Found } from "../api/types";
import { searched } from "../guide/pages";
import { arrow } from "../kit/plot";
import { terms } from "../terms/app";
import { terms as common } from "../terms/common";

const KINDS: Record<Found["kind"], string> = {
  rig: "rig",
  part: "part",
  target: "target",
  site: "site",
  assembly: terms.keptTogether,
  growth: "stages",
  preferences: "preferences",
  session: "night",
  marks: "marks",
  paper: "document",
  rule: "rule",
  sky: terms.inTheSky,
};

/** What is found, in the data or in the guide. */
type Hit = Pick<Found, "title" | "words" | "place" | "away"> & { what: string };
const MOST_PAGES = 5;

export function FindAll({ close }: { close: () => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const wanted = useDeferredValue(text.trim());
  const answer = useQuery({
    queryKey: ["find", wanted],
    enabled: wanted.length > 0,
    placeholderData: (before) => before,
    queryFn: () => data(api.GET("/api/v1/find", { params: { query: { words: wanted } } })),
  });
  const pages = wanted ? searched(wanted).slice(0, MOST_PAGES) : [];
  const found: Hit[] = wanted
    ? [
        ...(answer.data ?? []).map((one) => ({ ...one, what: KINDS[one.kind] })),
        ...pages.map((one) => ({
          what: terms.help,
          title: one.title,
          words: "",
          place: `/guide/${one.name}`,
          away: false,
        })),
      ]
    : [];
  const go = (one: Hit | undefined) => {
    if (!one) return;
    close();
    navigate(one.place);
  };
  return (
    <Modal open title={terms.findAnything} footer={null} onCancel={close} width={620} destroyOnHidden>
      <Input
        autoFocus
        aria-label={terms.findAnything}
        aria-controls="found-list"
        placeholder={terms.aRigPartTargetNightMark}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") go(found[at]);
          const by = event.key.startsWith("Arrow") ? arrow(event)?.y : undefined;
          if (!by) return;
          event.preventDefault();
          setAt(Math.max(0, Math.min(found.length - 1, at - Math.sign(by))));
        }}
      />
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {wanted && answer.data && found.length === 0 && (
        <p className="quiet">{terms.nothingHasAllOfTheseWords}</p>
      )}
      <ul id="found-list" className="found-list" data-testid="found">
        {found.map((one, k) => (
          <li key={`${one.what} ${one.place} ${one.title}`}>
            <button type="button" aria-current={k === at ? "true" : undefined} onClick={() => go(one)}>
              <span className="quiet">{one.what}</span>
              <strong>{one.title}</strong>
              <span className="quiet">
                {one.away ? common.putAway : ""}
                {one.words}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
