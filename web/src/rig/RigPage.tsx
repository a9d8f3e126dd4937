import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Input, Select } from "antd";
import { lazy, type ReactNode, Suspense, useCallback, useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, askAgain, data, words } from "../api/client";
import type { Finding, Mend, Part, PathItem, Rig } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { FigureValue } from "../drawing/FigureValue";
import { usePractice } from "../practice/usePractice";
import { STEPS } from "../steps";
import { PlainStep } from "../steps/PlainStep";
import { useSteps } from "../steps/useSteps";
import { BeliefLine } from "./BeliefLine";
import { CostDrawer } from "./CostDrawer";
import { GEAR_KINDS, withGear } from "./gear";
import { Inspector } from "./Inspector";
import { Ledger } from "./Ledger";
import { LightStrip } from "./LightStrip";
import { PartPicker } from "./PartPicker";
import { kindName, laid, movedItem } from "./path";
import { Rail } from "./Rail";
import { SaveNotice } from "./SaveNotice";
import { SavedRig } from "./useDrawn";
import { useEvaluation } from "./useEvaluation";
import { type RigInHand, useRig } from "./useRig";

const GuidedTour = lazy(() => import("./GuidedTour"));

const BIG: [key: string, label: string][] = [
  ["optics.focal_length_mm", "focal length"],
  ["optics.focal_ratio", "focal ratio"],
  ["optics.pixel_scale_arcsec_px", "pixel scale"],
  ["optics.field_width_deg", "field"],
  ["optics.sampling_px", "sampling"],
  ["optics.depth_of_focus_um", "depth of focus"],
];
const ALL_KINDS: Part["kind"][] = [
  "telescope",
  "focuser",
  "corrector",
  "adapter",
  "filter_holder",
  "filter",
  "off_axis_guider",
  "camera",
  ...GEAR_KINDS,
];
const FIRST_SHOWN = "glass";

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
  const practice = usePractice();
  // What a hand is dragging, not yet saved: numbers and findings follow it.
  const [dragged, setDragged] = useState<Rig | null>(null);
  const { answer, fault } = useEvaluation(
    // Until it is known by which practice to judge, nothing is asked: it would be asked again.
    practice.isPending ? null : (dragged ?? hand.rig),
    hand.kept?.rig ?? null,
    practice.data?.version,
  );
  const [costs, setCosts] = useState(false);
  const [chosen, setChosen] = useState<number | null>(null);
  const [picking, setPicking] = useState<Part["kind"][] | null>(null);
  const { rig, commit, patch, undo, redo } = hand;

  useEffect(() => {
    if (rig) document.title = `${rig.name} · Dravel`;
    return () => {
      document.title = "Dravel";
    };
  }, [rig]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest("input, textarea, [role=dialog]");
      if (typing) return;
      const key = event.key.toLowerCase();
      if ((event.ctrlKey || event.metaKey) && key === "z") {
        event.preventDefault();
        void (event.shiftKey ? redo() : undo());
      } else if (!event.ctrlKey && !event.metaKey && !event.altKey) {
        const wanted = steps[Number(key) - 1];
        if (wanted) navigate(`/rigs/${rigId}/${wanted.key}`);
        if (key === "l") {
          event.preventDefault();
          setPicking(ALL_KINDS);
        }
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [undo, redo, navigate, rigId, steps]);

  const changePath = useCallback(
    (path: PathItem[], note: string) => commit((now: Rig) => ({ ...now, path }), note),
    [commit],
  );

  if (hand.error) {
    return (
      <main className="plain-page">
        <h1>This rig cannot be opened</h1>
        <p role="alert">{words(hand.error)}</p>
      </main>
    );
  }
  if (!rig || !hand.kept) return <p className="loading">Opening…</p>;

  const page = steps.find((one) => one.key === shown);
  const View = STEPS.find((one) => one.key === shown)?.view;
  const path = rig.path ?? [];
  const bare = path.some((entry) => entry.part.kind === "telescope" && entry.part.needs_corrector);
  const has = (kind: Part["kind"]) => path.some((entry) => entry.part.kind === kind);
  const figures = answer?.evaluation.figures ?? [];
  const height = figures.find((figure) => figure.key === "optics.field_height_deg");

  function applyMend(finding: Finding, mend: Mend) {
    patch(mend.change, `${finding.code}: ${mend.label}`);
    const key = `mend-${Date.now()}`;
    notification.success({
      key,
      message: mend.label,
      description: `${finding.title}: now ${mend.leads_to}.`,
      actions: (
        <Button
          onClick={() => {
            void undo();
            notification.destroy(key);
          }}
        >
          Undo
        </Button>
      ),
    });
  }

  async function archive() {
    const params = { params: { path: { rig_id: rigId } } };
    const gone = await putAway({
      key: `archive-${rigId}`,
      name: rig?.name ?? "The rig",
      remove: () => data(api.DELETE("/api/v1/rigs/{rig_id}", params)),
      restore: () => data(api.POST("/api/v1/rigs/{rig_id}/restore", params)),
      refresh: () => askAgain(client, "board"),
    });
    if (gone) navigate("/");
  }

  return (
    <main className="rig-page">
      <section className="strip-panel" data-tour="strip">
        <div className="strip-side">
          <RigHead hand={hand} rig={rig}>
            <Button size="small" onClick={() => setPicking(ALL_KINDS)}>
              Lay a part
            </Button>
            <Button size="small" disabled={!hand.canUndo} onClick={() => void undo()}>
              Undo
            </Button>
            <Button size="small" disabled={!hand.canRedo} onClick={() => void redo()}>
              Redo
            </Button>
            <Button size="small" onClick={() => setCosts(true)}>
              Cost
            </Button>
            <Button size="small" href={`/api/v1/rigs/${rigId}/file`} download>
              Export
            </Button>
            <Button size="small" onClick={() => void archive()}>
              Put away
            </Button>
          </RigHead>
          {answer && path.length > 0 ? (
            <LightStrip
              strip={answer.strip}
              chosen={chosen}
              onChoose={setChosen}
              onMove={(index, by) => {
                const item = path[index];
                const to = Math.max(0, Math.min(path.length - 1, index + by));
                if (item && to !== index) changePath(movedItem(path, index, to), `${item.part.name} moved`);
              }}
            />
          ) : (
            <p className="empty strip-empty">
              {path.length === 0
                ? "An empty path. Light comes in from the left: begin with a telescope or a lens."
                : "…"}
            </p>
          )}
          {(!has("telescope") || !has("camera") || (bare && !has("corrector"))) && (
            <div className="strip-tools">
              {!has("telescope") && (
                <Button type="primary" onClick={() => setPicking(["telescope"])}>
                  Choose a telescope or lens
                </Button>
              )}
              {bare && !has("corrector") && (
                <Button onClick={() => setPicking(["corrector"])}>Choose a corrector</Button>
              )}
              {!has("camera") && (
                <Button
                  type={has("telescope") ? "primary" : "default"}
                  onClick={() => setPicking(["camera"])}
                >
                  Choose a camera
                </Button>
              )}
            </div>
          )}
        </div>
        <div data-testid="big-numbers" className="big-numbers" data-tour="numbers">
          {BIG.map(([key, label]) => {
            const figure = figures.find((entry) => entry.key === key);
            if (!figure)
              return (
                <NotYet
                  key={key}
                  label={label}
                  because={answer?.evaluation.missing.find((gap) => gap.key === key)?.because}
                />
              );
            const both =
              key === "optics.field_width_deg" && height ? ` × ${height.value.toFixed(2)}` : undefined;
            return <FigureValue key={key} figure={figure} label={label} extra={both} />;
          })}
        </div>
      </section>
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
        <section className="stage" aria-label={page?.title ?? "Step"}>
          <BeliefLine belief={answer?.evaluation.beliefs?.find((one) => one.step === page?.key)} />
          <SavedRig.Provider value={hand.kept.rig}>
            <Suspense fallback={<p className="loading">Opening…</p>}>
              {View ? (
                <View
                  rigId={rigId}
                  rig={rig}
                  evaluation={answer?.evaluation ?? null}
                  commit={commit}
                  patch={patch}
                  changePath={changePath}
                  preview={setDragged}
                  onMend={applyMend}
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
          <Ledger evaluation={answer.evaluation} onMend={applyMend} />
        ) : (
          <aside className="ledger" aria-label="Ledger" />
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
          title={picking.length === 1 && picking[0] ? `Choose a ${kindName(picking[0])}` : "Lay a part"}
          kinds={picking}
          close={() => setPicking(null)}
          onPick={(part) => {
            if (part.kind === "filter" && !has("filter_holder")) {
              notification.info({
                message: "Lay a filter holder first",
                description: "A filter sits in a drawer, a wheel or a cell.",
              });
              return;
            }
            const gear = withGear(rig, part);
            if (gear) commit((now: Rig) => ({ ...now, ...gear }), `${part.name} added`);
            else changePath(laid(rig, part), `${part.name} laid`);
            setPicking(null);
          }}
        />
      )}
      {costs && <CostDrawer rigId={rigId} revision={hand.kept.revision} close={() => setCosts(false)} />}
      {search.get("tour") && (
        <Suspense fallback={null}>
          <GuidedTour close={() => setSearch({}, { replace: true })} />
        </Suspense>
      )}
    </main>
  );
}

const PURPOSES = ["wide_field", "nebula", "galaxy", "cluster", "planetary", "untracked"] as const;

function RigHead({ hand, rig, children }: { hand: RigInHand; rig: Rig; children: ReactNode }) {
  const [name, setName] = useState<string | null>(null);
  const keep = () => {
    const wanted = (name ?? "").trim();
    if (name !== null && wanted && wanted !== rig.name) hand.commit({ name: wanted }, "renamed");
    setName(null);
  };
  const saved = hand.kept ? new Date(hand.kept.saved_at) : null;
  return (
    <div className="rig-head">
      <h1>
        <Input
          variant="borderless"
          aria-label="Name of the rig"
          value={name ?? rig.name}
          maxLength={120}
          style={{ width: `${Math.max(5, (name ?? rig.name).length + 2)}ch` }}
          onChange={(event) => setName(event.target.value)}
          onBlur={keep}
          onPressEnter={(event) => event.currentTarget.blur()}
        />
      </h1>
      <Select
        mode="multiple"
        variant="borderless"
        aria-label="Purposes"
        placeholder="what is it for?"
        className="purposes"
        maxTagCount={3}
        value={[...(rig.purposes ?? [])]}
        options={PURPOSES.map((purpose) => ({ value: purpose, label: purpose.replace("_", " ") }))}
        onChange={(purposes) => hand.commit({ purposes }, "purposes changed")}
      />
      <span data-testid="saved" className="quiet saved" role="status">
        {hand.state.is === "saving"
          ? "saving…"
          : `revision ${hand.kept?.revision} · saved ${saved?.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`}
      </span>
      <div className="rig-tools">{children}</div>
    </div>
  );
}

function NotYet({ label, because }: { label: string; because: string | undefined }) {
  return (
    <span data-testid="figure" className="figure" title={because}>
      <span data-testid="figure-value" className="figure-value quiet">
        —
      </span>
      <span className="figure-label">{label}</span>
    </span>
  );
}
