import { Button } from "antd";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import type { RigInHand } from "./useRig";

/** What stands between the draft and the store: a change made elsewhere, a refusal, no server, a kept draft. */
export function SaveNotice({ hand }: { hand: RigInHand }) {
  const navigate = useNavigate();
  const { state, told } = hand;
  if (state.is === "stale") {
    return (
      <Notice
        role="alert"
        about={state.is}
        words={phrase(terms.anotherWindowOrDeviceSavedRevision, {
          current: state.current,
          fields: state.fields.join("; "),
        })}
      >
        <Button onClick={() => void hand.mineOnTop()}>{terms.saveMineOnTop}</Button>
        <Button
          onClick={async () => {
            const id = await hand.mineAsCopy();
            if (id) navigate(`/rigs/${id}/optics`);
          }}
        >
          {terms.keepMineAsACopy}
        </Button>
        <Button onClick={() => void hand.takeTheirs()}>{terms.takeTheirs}</Button>
      </Notice>
    );
  }
  if (state.is === "refused" || state.is === "unsaved") {
    const refused = state.is === "refused";
    return (
      <Notice
        role="alert"
        about={state.is}
        words={
          refused
            ? phrase(terms.notSavedBecause, { because: state.because })
            : phrase(terms.becauseItIsTriedAgainBy, { because: state.because })
        }
      >
        {!refused && <Button onClick={() => hand.commit({}, terms.savedAgain)}>{terms.saveNow}</Button>}
        <Button onClick={() => void hand.takeTheirs()}>{terms.backToWhatIsSaved}</Button>
      </Notice>
    );
  }
  if (told) {
    const { back } = told;
    return (
      <Notice role="status" about="merged" words={told.words}>
        {back && (
          <Button onClick={() => void hand.bringBack(back, terms.broughtBackAfterAnUndo)}>
            {common.bringItBack}
          </Button>
        )}
        <Button onClick={hand.hush}>{terms.good}</Button>
      </Notice>
    );
  }
  return null;
}

interface NoticeProps {
  role: "alert" | "status";
  about: string;
  words: string;
  children: ReactNode;
}

function Notice({ role, about, words, children }: NoticeProps) {
  return (
    <div className="notice" role={role} data-testid={`notice-${about}`}>
      <span>{words}</span>
      {children}
    </div>
  );
}
