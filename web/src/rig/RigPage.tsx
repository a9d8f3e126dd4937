import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, askAgain, data, words } from "../api/client";
import type { Figure, Finding, Fix, Part, PathItem, Rig } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { type Told, useKeys } from "../app/keys";
import { useChosenNight } from "../app/night";
import { FiguresAtHand } from "../kit/Calculated";
import { usePreferences } from "../preferences/usePreferences";
import { STEPS } from "../steps";
import { PlainStep } from "../steps/PlainStep";
import { useSteps } from "../steps/useSteps";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import { BeliefLine } from "./BeliefLine";
import { CostDrawer } from "./CostDrawer";
import { Findings, type Fixed } from "./Findings";
import { guidedBy, withGear, withGuideCamera } from "./gear";
import { Inspector } from "./Inspector";
import { PartPicker } from "./PartPicker";
import { kindName, laid, movedItem, repathed } from "./path";
import { Rail } from "./Rail";
import { ALL_KINDS, RigTop } from "./RigTop";
import { SaveNotice } from "./SaveNotice";
import { SavedRig } from "./useDrawn";
import { useEvaluation } from "./useEvaluation";
import { useFocusStays } from "./useFocusStays";
import { useRig } from "./useRig";
import { WhichCamera } from "./WhichCamera";
import "./rig.module.css";

const GuidedTour = lazy(() => import("./GuidedTour"));
const Improve = lazy(() => import("../begin/Improve").then((m) => ({ default: m.Improve })));

const ON_THE_STRIP: readonly Told[] = [
  [terms.enterOnABlock, terms.openThePart],
  ["Alt ← →", terms.moveTheChosenPartAlongThe],
];
const FIRST_SHOWN = "optics";
/** Where the train itself is the work, it is drawn large. */
const LARGE_STRIP = ["optics", "spacing"];

const NO_FIGURES: readonly Figure[] = [];

export default function RigPage() {
  const { rigId = "" } = useParams();
  // A new rig is a new page: nothing of the last one's state may linger.
  return <OneRig key={rigId} rigId={rigId} />;
}

function OneRig({ rigId }: { rigId: string }) {
  const { step: shown = FIRST_SHOWN } = useParams();
  const steps = useSteps();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { notification } = App.useApp();
  const putAway = usePutAway();
  const client = useQueryClient();
  const hand = useRig(rigId);
  const preferences = usePreferences();
  const { night } = useChosenNight();
  // What a hand is dragging, not yet saved: numbers and findings follow it.
  const [dragged, setDragged] = useState<Rig | null>(null);
  // Counts what frames were measured or put away: they are judged with the rig.
  const [evidence, setEvidence] = useState(0);
  const { answer, fault } = useEvaluation(
    rigId,
    // Until it is known by which preferences to judge, nothing is asked: it would be asked again.
    preferences.isPending ? null : (dragged ?? hand.rig),
    hand.kept?.rig ?? null,
    `${preferences.data?.version} ${night} ${evidence}`,
  );
  const judgeAgain = useCallback(() => setEvidence((now) => now + 1), []);
  const [costs, setCosts] = useState(false);
  const [improving, setImproving] = useState(false);
  const [chosen, setChosen] = useState<number | null>(null);
  const [asking, setAsking] = useState<Part | null>(null);
  const [picking, setPicking] = useState<Part["kind"][] | null>(null);
  const { rig, commit, patch, undo, redo } = hand;
  // The fix taken last: its own undo stands as long as nothing else was changed since.
  const [taken, setTaken] = useState<(Fixed & { revision: number }) | null>(null);
  const fixed = taken && hand.kept && hand.kept.revision <= taken.revision ? taken : null;
  useFocusStays();

  useEffect(() => {
    if (rig) document.title = `${rig.name} · Dravel`;
    return () => {
      document.title = "Dravel";
    };
  }, [rig]);

  useKeys(
    terms.thisRig,
    [
      ...steps.map((one, i) => ({
        key: "1234567890-="[i] ?? "",
        does: one.title,
        run: () => {
          navigate(`/rigs/${rigId}/${one.key}`);
          document.getElementById("step")?.focus();
        },
      })),
      { key: "l", does: terms.layAPart, run: () => setPicking(ALL_KINDS) },
      { key: "Control+z", does: "undo", run: () => void undo() },
      { key: "Control+Shift+z", does: "redo", run: () => void redo() },
    ],
    ON_THE_STRIP,
  );
  const opened = STEPS.find((one) => one.key === shown);
  useKeys(steps.find((one) => one.key === shown)?.title ?? "", [], opened?.keys);

  const changePath = useCallback(
    (path: PathItem[], note: string) => commit((now: Rig) => repathed(now, path), note),
    [commit],
  );

  if (hand.error) {
    return (
      <main className="plain-page">
        <h1>{terms.thisRigCannotBeOpened}</h1>
        <p role="alert">{words(hand.error)}</p>
      </main>
    );
  }
  if (!rig || !hand.kept) return <p className="loading">{common.opening}</p>;

  const page = steps.find((one) => one.key === shown);
  const View = opened?.view;
  const path = rig.path ?? [];
  const has = (kind: Part["kind"]) => path.some((entry) => entry.part.kind === kind);

  function applyFix(finding: Finding, fix: Fix) {
    patch(fix.change, `${finding.code}: ${fix.label.text}`);
    setTaken({
      code: finding.code,
      revision: (hand.kept?.revision ?? 0) + 1,
      label: fix.label.text,
      words: phrase(terms.titleNowLeadsTo, { title: finding.title.text, leads_to: fix.leads_to }),
    });
  }

  async function archive() {
    const params = { params: { path: { rig_id: rigId } } };
    const gone = await putAway({
      key: `archive-${rigId}`,
      name: rig?.name ?? terms.theRig,
      remove: () => data(api.DELETE("/api/v1/rigs/{rig_id}", params)),
      restore: () => data(api.POST("/api/v1/rigs/{rig_id}/restore", params)),
      refresh: () => askAgain(client, "board"),
    });
    if (gone) navigate("/");
  }

  return (
    <FiguresAtHand value={answer?.evaluation.figures ?? NO_FIGURES}>
      <main className="rig-page">
        <a className="skip" href="#step">
          {terms.skipToTheStep}
        </a>
        <RigTop
          hand={hand}
          rig={rig}
          answer={answer}
          large={LARGE_STRIP.includes(shown)}
          chosen={chosen}
          choose={setChosen}
          move={(index, by) => {
            const item = path[index];
            const to = Math.max(0, Math.min(path.length - 1, index + by));
            if (item && to !== index)
              changePath(movedItem(path, index, to), phrase(common.partMoved, { part: item.part.name }));
          }}
          lay={setPicking}
          undo={() => void undo()}
          redo={() => void redo()}
          costs={() => setCosts(true)}
          improve={() => setImproving(true)}
          archive={() => void archive()}
        />
        <SaveNotice hand={hand} />
        {fault && hand.state.is !== "unsaved" && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
        <div className="rig-body">
          <Rail
            rigId={rigId}
            steps={steps}
            evaluation={answer?.evaluation ?? null}
            aimAt={search.get("target")}
          />
          <section
            className="stage"
            id="step"
            data-place
            tabIndex={-1}
            aria-label={page?.title ?? terms.step}
          >
            <BeliefLine belief={answer?.evaluation.beliefs?.find((one) => one.step === page?.key)} />
            <SavedRig.Provider value={hand.kept.rig}>
              <Suspense fallback={<p className="loading">{common.opening}</p>}>
                {View ? (
                  <View
                    rigId={rigId}
                    rig={rig}
                    evaluation={answer?.evaluation ?? null}
                    commit={commit}
                    patch={patch}
                    changePath={changePath}
                    preview={setDragged}
                    judgeAgain={judgeAgain}
                    onFix={applyFix}
                    target={search.get("target")}
                    setTarget={(target) => setSearch({ target }, { replace: true })}
                  />
                ) : (
                  page && <PlainStep step={page} evaluation={answer?.evaluation ?? null} />
                )}
              </Suspense>
            </SavedRig.Provider>
          </section>
          {answer ? (
            <Findings
              evaluation={answer.evaluation}
              steps={steps}
              here={page?.key ?? ""}
              onFix={applyFix}
              fixed={fixed}
              undo={() => void undo()}
            />
          ) : (
            <aside className="findings" aria-label={terms.findings} />
          )}
        </div>
        {chosen !== null && path[chosen] && (
          <Inspector
            rig={rig}
            path={path}
            index={chosen}
            change={changePath}
            patch={patch}
            choose={setChosen}
          />
        )}
        {picking && (
          <PartPicker
            title={
              picking.length === 1 && picking[0]
                ? phrase(common.chooseAPicking, { picking: kindName(picking[0]) })
                : terms.layAPart2
            }
            kinds={picking}
            close={() => setPicking(null)}
            onPick={(part) => {
              if (part.kind === "filter" && !has("filter_holder")) {
                notification.info({
                  message: terms.layAFilterHolderFirst,
                  description: terms.aFilterSitsInADrawer,
                });
                return;
              }
              const gear = withGear(rig, part);
              setPicking(null);
              if (part.kind === "camera" && has("camera")) setAsking(part);
              else if (gear)
                commit((now: Rig) => ({ ...now, ...gear }), phrase(common.partAdded, { part: part.name }));
              else if (part.kind === "off_axis_guider")
                commit(
                  (now: Rig) => ({ ...now, ...guidedBy(now, "off_axis"), path: laid(now, part) }),
                  phrase(terms.partLaid, { part: part.name }),
                );
              else changePath(laid(rig, part), phrase(terms.partLaid, { part: part.name }));
            }}
          />
        )}
        {asking?.kind === "camera" && (
          <WhichCamera
            name={asking.name}
            there={path.find((entry) => entry.part.kind === "camera")?.part.name ?? "camera"}
            guides={() => {
              commit(
                (now: Rig) => ({ ...now, ...withGuideCamera(now, asking) }),
                phrase(terms.askingGuides, { asking: asking.name }),
              );
              setAsking(null);
            }}
            replaces={() => {
              changePath(laid(rig, asking), phrase(terms.askingLaid, { asking: asking.name }));
              setAsking(null);
            }}
            close={() => setAsking(null)}
          />
        )}
        {costs && <CostDrawer rigId={rigId} revision={hand.kept.revision} close={() => setCosts(false)} />}
        {improving && (
          <Suspense fallback={null}>
            <Improve
              rigId={rigId}
              name={rig.name}
              revision={hand.kept.revision}
              close={() => setImproving(false)}
            />
          </Suspense>
        )}
        {search.get("tour") && (
          <Suspense fallback={null}>
            <GuidedTour
              evaluation={answer?.evaluation ?? null}
              onFix={applyFix}
              close={() => setSearch({}, { replace: true })}
            />
          </Suspense>
        )}
      </main>
    </FiguresAtHand>
  );
}
