/** One night: plan against shot, losses, conditions, marks, pictures; what is doubtful of it is told. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { App, Button, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import type { PaperShown, SessionShown } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { FileButton } from "../kit/FileButton";
import { keepPaper } from "../kit/papers";
import { hoursWords, plain, withUnit } from "../kit/quantity";
import { ChangeNight } from "./ChangeNight";
import { Clashes } from "./Clashes";
import { changedFields, TITLES } from "./draft";
import { useChange } from "./useChange";

interface Props {
  id: string;
  close: () => void;
  changed: () => Promise<unknown>;
}
const ORIGINS = { run: "run", rehearsed: "rehearsed", frames: "from frames", typed: "typed" } as const;

export function OneNight({ id, close, changed }: Props) {
  const found = useQuery({
    queryKey: ["sessions", id],
    queryFn: () => data(api.GET("/api/v1/sessions/{session_id}", { params: { path: { session_id: id } } })),
  });
  if (found.error && !found.data) return <p className="fault">{words(found.error)}</p>;
  if (!found.data) return <p className="loading">Opening…</p>;
  return <Shown key={id} shown={found.data} close={close} changed={changed} />;
}

function Shown({ shown, close, changed }: Omit<Props, "id"> & { shown: SessionShown }) {
  const { notification } = App.useApp();
  const putAway = usePutAway();
  const { id } = shown;
  const path = { params: { path: { session_id: id } } };
  const sorts = useQuery({
    queryKey: ["mark-sorts"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => data(api.GET("/api/v1/sessions/sorts")),
  });
  const hand = useChange(shown, changed);
  const [changing, setChanging] = useState(false);
  const fail = (error: unknown) => notification.error({ message: "Not kept", description: words(error) });
  const addPicture = useMutation({
    mutationFn: (file: File) => keepPaper("session", id, file),
    onSuccess: () => changed(),
    onError: fail,
  });
  const { record, told, pictures, frames, away: gone } = shown;
  const typed = changedFields(hand.change);
  const others = typed.filter((field) => field !== "note");
  if (changing) return <ChangeNight hand={hand} close={() => setChanging(false)} />;
  const away = (put: boolean) =>
    data(api.PUT("/api/v1/sessions/{session_id}/away", { ...path, body: { away: put } }));
  const leave = () =>
    putAway({
      key: `session-${id}`,
      name: `${record.rig}, ${record.night}`,
      more: "Its light counts no more.",
      remove: () => away(true),
      restore: () => away(false),
      refresh: async () => {
        close();
        await changed();
      },
    });
  return (
    <article className="one-night" data-testid="one-night" aria-label={`${record.rig}, ${record.night}`}>
      <header>
        <h2>
          {record.rig}, night of {record.night}
        </h2>
        <span className="quiet">
          {gone && "put away · "}
          {record.site} · {ORIGINS[record.origin ?? "run"]} · revision {record.rig_revision}
          {frames > 0 && ` · ${frames} frames`}
        </span>
        <span className="actions">
          <Link to={`/rigs/${record.rig_id}/build`}>Into the build</Link>
          <Button size="small" onClick={() => setChanging(true)}>
            Change
          </Button>
          {gone ? (
            <Button size="small" onClick={() => void away(false).then(changed)}>
              Bring back
            </Button>
          ) : (
            <Button size="small" onClick={() => void leave()}>
              Put away
            </Button>
          )}
          <Button size="small" onClick={close}>
            Close
          </Button>
        </span>
      </header>
      {told.map((one) => (
        <p key={one} className="fault" role="status">
          Look again: {one}.
        </p>
      ))}
      <div className="table-scroll" role="region" tabIndex={0} aria-label="Subs of the night">
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">target</th>
              <th scope="col">filter</th>
              <th scope="col">sub</th>
              <th scope="col">planned</th>
              <th scope="col">taken</th>
              <th scope="col">kept</th>
              <th scope="col">light</th>
            </tr>
          </thead>
          <tbody>
            {(record.subs ?? []).map((one) => (
              <tr key={`${one.target} ${one.filter} ${one.sub_s}`}>
                <th scope="row">{one.name || one.target}</th>
                <td>{one.filter || "none"}</td>
                <td className="num">{plain(one.sub_s)} s</td>
                <td className="num">{one.planned}</td>
                <td className="num">{one.taken}</td>
                <td className="num">{one.kept}</td>
                <td className="num">{hoursWords((one.kept * one.sub_s) / 3600)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="num">
        {[
          ...(record.losses ?? []).map((one) => `${one.count} lost: ${one.why}`),
          record.conditions?.temperature_c != null ? `${plain(record.conditions.temperature_c)} °C` : "",
          record.conditions?.seeing_arcsec != null ? `seeing ${plain(record.conditions.seeing_arcsec)}″` : "",
          record.conditions?.words ?? "",
          (record.people ?? []).length > 0 ? `with ${record.people?.join(", ")}` : "",
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      {(record.marks ?? []).length > 0 && (
        <p>
          Marks that worked:{" "}
          {(record.marks ?? []).map((one, k) => {
            const what = sorts.data?.find((entry) => entry.sort === one.sort);
            return (
              <span key={k} className="mark-chip num">
                {what?.title ?? one.sort}
                {one.of ? ` (${one.of})` : ""}: {withUnit(one.value, what?.unit ?? "")}
                {one.temperature_c != null && ` at ${plain(one.temperature_c)} °C`}
              </span>
            );
          })}
        </p>
      )}
      {(record.events ?? []).length > 0 && (
        <details>
          <summary>What happened</summary>
          <ul className="plain-list session-events">
            {(record.events ?? []).map((one) => (
              <li key={`${one.at} ${one.what}`}>
                <span className="quiet num">{one.at.slice(11, 16)} UT</span> {one.what}
              </li>
            ))}
          </ul>
        </details>
      )}
      <div className="night-note">
        <Input.TextArea
          aria-label="Notes of this night"
          autoSize={{ minRows: 1 }}
          maxLength={4000}
          placeholder="notes"
          value={hand.draft.note}
          onChange={(event) => hand.set({ note: event.target.value })}
        />
        {typed.includes("note") && (
          <Button
            loading={hand.saving.isPending}
            disabled={hand.change.clashes.some((one) => one.field === "note")}
            onClick={() => hand.saving.mutate(["note"], { onError: fail })}
          >
            Keep the note
          </Button>
        )}
      </div>
      <Clashes hand={hand} />
      {others.length > 0 && (
        <p role="status" data-testid="typed-not-kept">
          Unsaved changes: {others.map((field) => TITLES[field].toLowerCase()).join(", ")}.{" "}
          <Button size="small" data-testid="edit-session" onClick={() => setChanging(true)}>
            Edit session
          </Button>{" "}
          <Button size="small" onClick={hand.drop}>
            Discard changes
          </Button>
        </p>
      )}
      <div className="night-pictures">
        {pictures.map((one) => (
          <Picture key={one.id} one={one} changed={changed} />
        ))}
        <FileButton
          words="Add a picture"
          label="Picture of the night"
          accept="image/jpeg,image/png"
          loading={addPicture.isPending}
          onFile={(file) => addPicture.mutate(file)}
        />
        <span className="quiet">Made small; place, time and camera are taken out of it.</span>
      </div>
    </article>
  );
}

function Picture({ one, changed }: { one: PaperShown; changed: () => Promise<unknown> }) {
  const path = { params: { path: { paper_id: one.id } } };
  return (
    <figure>
      <a href={`/api/v1/papers/${one.id}`} target="_blank" rel="noreferrer">
        <img src={`/api/v1/papers/${one.id}`} alt={one.name} loading="lazy" />
      </a>
      <figcaption className="quiet">
        {one.name}{" "}
        <button
          type="button"
          className="link"
          aria-label={`Put away the picture ${one.name}`}
          onClick={() =>
            void data(api.PUT("/api/v1/papers/{paper_id}/away", { ...path, body: { away: true } })).then(
              changed,
            )
          }
        >
          ×
        </button>
      </figcaption>
    </figure>
  );
}
