/** One night: plan against shot, losses, conditions, marks, pictures; what is doubtful of it is told. */

import { useMutation, useQuery } from "@tanstack/react-query";
import { App, Button, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import type { PaperShown, SessionShown } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { Num } from "../kit/Calculated";
import { FileButton } from "../kit/FileButton";
import { keepPaper } from "../kit/papers";
import { hoursWords, plain, withUnit } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase, phrase } from "../terms/phrase";
import { ChangeNight } from "./ChangeNight";
import { Clashes } from "./Clashes";
import { changedFields, TITLES } from "./draft";
import { useChange } from "./useChange";

interface Props {
  id: string;
  close: () => void;
  changed: () => Promise<unknown>;
}
const ORIGINS = { run: "run", rehearsed: "rehearsed", frames: terms.fromFrames, typed: "typed" } as const;

export function OneNight({ id, close, changed }: Props) {
  const found = useQuery({
    queryKey: ["sessions", id],
    queryFn: () => data(api.GET("/api/v1/sessions/{session_id}", { params: { path: { session_id: id } } })),
  });
  if (found.error && !found.data) return <p className="fault">{words(found.error)}</p>;
  if (!found.data) return <p className="loading">{common.opening}</p>;
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
  const fail = (error: unknown) => notification.error({ message: terms.notKept, description: words(error) });
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
      more: terms.itsLightCountsNoMore,
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
          <Phrase of={terms.rigNightOfNight} with={{ rig: record.rig, night: record.night }} />
        </h2>
        <span className="quiet">
          <Phrase
            of={terms.xSiteOriginsRevisionRigRevision}
            with={{
              x: gone && common.putAway,
              site: record.site,
              ORIGINS: ORIGINS[record.origin ?? "run"],
              rig_revision: record.rig_revision,
              frames: frames > 0 && phrase(terms.framesFrames, { frames }),
            }}
          />
        </span>
        <span className="actions">
          <Link to={`/rigs/${record.rig_id}/assembly`}>{terms.intoTheBuild}</Link>
          <Button size="small" onClick={() => setChanging(true)}>
            {terms.change}
          </Button>
          {gone ? (
            <Button size="small" onClick={() => void away(false).then(changed)}>
              {terms.bringBack}
            </Button>
          ) : (
            <Button size="small" onClick={() => void leave()}>
              {common.putAway3}
            </Button>
          )}
          <Button size="small" onClick={close}>
            {common.close}
          </Button>
        </span>
      </header>
      {told.map((one) => (
        <p key={one.text} className="fault" role="status">
          <Phrase of={terms.lookAgainOne} with={{ one: <Says text={one} /> }} />
        </p>
      ))}
      <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.subsOfTheNight}>
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">{common.target}</th>
              <th scope="col">{common.filter}</th>
              <th scope="col">{terms.sub}</th>
              <th scope="col">{terms.planned}</th>
              <th scope="col">{terms.taken}</th>
              <th scope="col">{terms.kept}</th>
              <th scope="col">{terms.light}</th>
            </tr>
          </thead>
          <tbody>
            {(record.subs ?? []).map((one) => (
              <tr key={`${one.target} ${one.filter} ${one.sub_s}`}>
                <th scope="row">{one.name || one.target}</th>
                <td>{one.filter || common.none}</td>
                <td className="num">
                  <Num of="SessionSubs.sub_s">{plain(one.sub_s)}</Num> s
                </td>
                <td className="num">{one.planned}</td>
                <td className="num">{one.taken}</td>
                <td className="num">{one.kept}</td>
                <td className="num">
                  <Num of="SessionSubs.kept">{hoursWords((one.kept * one.sub_s) / 3600)}</Num>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="num">
        <Num of="SessionConditions.temperature_c">
          {[
            ...(record.losses ?? []).map((one) =>
              phrase(terms.countLostWhy, { count: one.count, why: one.why }),
            ),
            record.conditions?.temperature_c != null ? `${plain(record.conditions.temperature_c)} °C` : "",
            record.conditions?.seeing_arcsec != null
              ? phrase(terms.seeingSeeingArcsec, { seeing_arcsec: plain(record.conditions.seeing_arcsec) })
              : "",
            record.conditions?.words ?? "",
            (record.people ?? []).length > 0
              ? phrase(terms.withPeople, { people: record.people?.join(", ") })
              : "",
          ]
            .filter(Boolean)
            .join(" · ")}
        </Num>
      </p>
      {(record.marks ?? []).length > 0 && (
        <p>
          {terms.marksThatWorked2}{" "}
          {(record.marks ?? []).map((one, k) => {
            const what = sorts.data?.find((entry) => entry.sort === one.sort);
            return (
              <span key={k} className="mark-chip num">
                {what?.title ?? one.sort}
                {one.of ? ` (${one.of})` : ""}:{" "}
                <Num of="WorkedMark.value">{withUnit(one.value, what?.unit ?? "")}</Num>
                <Num of="WorkedMark.temperature_c">
                  {one.temperature_c != null &&
                    phrase(terms.atTemperatureCC, { temperature_c: plain(one.temperature_c) })}
                </Num>
              </span>
            );
          })}
        </p>
      )}
      {(record.events ?? []).length > 0 && (
        <details>
          <summary>{terms.whatHappened}</summary>
          <ul className="plain-list session-events">
            {(record.events ?? []).map((one) => (
              <li key={`${one.at} ${one.what}`}>
                <span className="quiet num">
                  <Phrase of={terms.atUt} with={{ at: one.at.slice(11, 16) }} />
                </span>{" "}
                {one.what}
              </li>
            ))}
          </ul>
        </details>
      )}
      <div className="night-note">
        <Input.TextArea
          aria-label={terms.notesOfThisNight}
          autoSize={{ minRows: 1 }}
          maxLength={4000}
          placeholder={terms.notes2}
          value={hand.draft.note}
          onChange={(event) => hand.set({ note: event.target.value })}
        />
        {typed.includes("note") && (
          <Button
            loading={hand.saving.isPending}
            disabled={hand.change.clashes.some((one) => one.field === "note")}
            onClick={() => hand.saving.mutate(["note"], { onError: fail })}
          >
            {terms.keepTheNote}
          </Button>
        )}
      </div>
      <Clashes hand={hand} />
      {others.length > 0 && (
        <p role="status" data-testid="typed-not-kept">
          <Phrase
            of={terms.unsavedChangesOthers}
            with={{ others: others.map((field) => TITLES[field].toLowerCase()).join(", ") }}
          />{" "}
          <Button size="small" data-testid="edit-session" onClick={() => setChanging(true)}>
            {terms.editSession}
          </Button>{" "}
          <Button size="small" onClick={hand.drop}>
            {terms.discardChanges}
          </Button>
        </p>
      )}
      <div className="night-pictures">
        {pictures.map((one) => (
          <Picture key={one.id} one={one} changed={changed} />
        ))}
        <FileButton
          words={terms.addAPicture}
          label={terms.pictureOfTheNight}
          accept="image/jpeg,image/png"
          loading={addPicture.isPending}
          onFile={(file) => addPicture.mutate(file)}
        />
        <span className="quiet">{terms.madeSmallPlaceTimeAndCamera}</span>
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
          aria-label={phrase(terms.putAwayThePictureName, { name: one.name })}
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
