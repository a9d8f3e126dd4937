/** The first screen of a new owner: four ways in, each ending in a rig. */
import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import type { Part, Rig } from "../api/types";
import { ABOUT } from "../begin/request";
import { FileButton } from "../kit/FileButton";
import { useShelf } from "../rig/PartPicker";
import { inShort, laid, namedBy } from "../rig/path";
import { terms } from "../terms/board";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import "./Begin.module.css";

const PartEditor = lazy(() => import("../shelf/PartEditor").then((m) => ({ default: m.PartEditor })));

const HEART = [
  { kind: "telescope", title: terms.telescopeOrLens },
  { kind: "camera", title: terms.camera },
  { kind: "mount", title: terms.mount },
] as const;
type Chosen = Partial<Record<(typeof HEART)[number]["kind"], Part>>;

interface Props {
  make: (rig: Partial<Rig>) => void;
  importRig: (file: File) => void;
  making: boolean;
}

export function Begin({ make, importRig, making }: Props) {
  const client = useQueryClient();
  const [chosen, setChosen] = useState<Chosen>({});
  const [fault, setFault] = useState("");
  async function lookAround() {
    try {
      await data(api.POST("/api/v1/demo"));
      await client.invalidateQueries();
    } catch (error) {
      setFault(words(error));
    }
  }
  function lay() {
    const { telescope, camera, mount } = chosen;
    let rig: Partial<Rig> = { purposes: [] };
    for (const part of [telescope, camera]) if (part) rig = { ...rig, path: laid(rig as Rig, part) };
    if (mount?.kind === "mount") rig = { ...rig, mount };
    make({ ...rig, name: namedBy(rig as Rig) ?? common.newRig });
  }
  return (
    <section className="begin" aria-label={common.begin}>
      <p className="begin-lead">{terms.dravelMatchesTelescopeCameraMountAnd}</p>
      <div className="begin-ways">
        <section className="begin-request" aria-label={terms.whatIWouldLikeToPhotograph}>
          <h2>{terms.whatIWouldLikeToPhotograph}</h2>
          <p className="quiet">{terms.wholeRigsThatWorkOutOf}</p>
          <div className="begin-chips">
            {ABOUT.filter(([key]) => key !== "list").map(([key, title]) => (
              <Link key={key} to={`/rig-finder?about=${key}`} className="request-link">
                {title}
              </Link>
            ))}
          </div>
        </section>
        <section className="begin-own" aria-label={terms.whatIOwn}>
          <h2>{terms.whatIOwn}</h2>
          <div className="begin-heart">
            {HEART.map(({ kind, title }) => (
              <Choose
                key={kind}
                kind={kind}
                title={title}
                part={chosen[kind]}
                choose={(part) => setChosen({ ...chosen, [kind]: part })}
              />
            ))}
          </div>
          <Button
            type="primary"
            loading={making}
            disabled={!chosen.telescope && !chosen.camera && !chosen.mount}
            onClick={lay}
          >
            {terms.makeThisRig}
          </Button>
        </section>
        <section className="begin-other" aria-label={terms.aRigFile}>
          <h2>{terms.openARigFile}</h2>
          <p className="quiet">{terms.aRigThatSomebodyExportedWith}</p>
          <FileButton
            words={terms.chooseTheFile}
            label={terms.rigFileToOpen}
            accept=".json,application/json"
            onFile={importRig}
          />
        </section>
        <section className="begin-other" aria-label={terms.theDemoRigs}>
          <h2>{terms.lookAroundInTheDemoRigs}</h2>
          <p className="quiet">{terms.fourInventedRigsOneOfThem}</p>
          <Button onClick={() => void lookAround()}>{terms.copyTheDemoRigsIn}</Button>
        </section>
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
    </section>
  );
}

interface ChooseProps {
  kind: Part["kind"];
  title: string;
  part: Part | undefined;
  choose: (part: Part | undefined) => void;
}

/** One part of the heart of a rig, from the shelf; one that is not there is added on the spot. */
function Choose({ kind, title, part, choose }: ChooseProps) {
  const shelf = useShelf();
  const [text, setText] = useState("");
  const [adding, setAdding] = useState(false);
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fitting = (shelf.data ?? [])
    .map((entry) => entry.body)
    .filter((one) => one.kind === kind && one.status !== "retired")
    .filter((one) => wanted.every((word) => `${one.name} ${inShort(one)}`.toLowerCase().includes(word)));
  return (
    <fieldset className="begin-choose">
      <legend>{title}</legend>
      {part ? (
        <button
          type="button"
          className="begin-chosen"
          aria-label={phrase(terms.partChooseAnother, { part: part.name })}
          onClick={() => choose(undefined)}
        >
          <strong>{part.name}</strong>
          <span className="quiet">{inShort(part)}</span>
          <span className="begin-again">{terms.another}</span>
        </button>
      ) : (
        <>
          <Input
            allowClear
            size="small"
            aria-label={phrase(terms.searchTitle, { title })}
            placeholder={common.search}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onPressEnter={() => fitting[0] && choose(fitting[0])}
          />
          <ul>
            {fitting.map((one) => (
              <li key={one.id}>
                <button type="button" onClick={() => choose(one)}>
                  <strong>{one.name}</strong>
                  <span className="quiet">{inShort(one)}</span>
                </button>
              </li>
            ))}
          </ul>
          <button type="button" className="link" onClick={() => setAdding(true)}>
            {terms.notHereAddMine}
          </button>
        </>
      )}
      {adding && (
        <Suspense fallback={null}>
          <PartEditor
            kept={null}
            start={null}
            begins={kind}
            close={() => setAdding(false)}
            onKept={(kept) => choose(kept.body)}
          />
        </Suspense>
      )}
    </fieldset>
  );
}
