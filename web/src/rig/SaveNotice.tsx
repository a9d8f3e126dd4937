import { Button } from "antd";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import type { RigInHand } from "./useRig";

/** What stands between the draft and the store: a change made elsewhere, a refusal, no server, a kept draft. */
export function SaveNotice({ hand }: { hand: RigInHand }) {
  const navigate = useNavigate();
  const { state, told } = hand;
  if (state.is === "stale") {
    return (
      <Notice
        role="alert"
        words={`Another window or device saved revision ${state.current} meanwhile and changed the same: ${state.fields.join("; ")}. Yours is kept here; nothing was overwritten.`}
      >
        <Button onClick={() => void hand.mineOnTop()}>Save mine on top</Button>
        <Button
          onClick={async () => {
            const id = await hand.mineAsCopy();
            if (id) navigate(`/rigs/${id}/glass`);
          }}
        >
          Keep mine as a copy
        </Button>
        <Button onClick={() => void hand.takeTheirs()}>Take theirs</Button>
      </Notice>
    );
  }
  if (state.is === "refused" || state.is === "unsaved") {
    const refused = state.is === "refused";
    return (
      <Notice
        role="alert"
        words={refused ? `Not saved: ${state.because}` : `${state.because} It is tried again by itself.`}
      >
        {!refused && <Button onClick={() => hand.commit({}, "saved again")}>Save now</Button>}
        <Button onClick={() => void hand.takeTheirs()}>Back to what is saved</Button>
      </Notice>
    );
  }
  if (told) {
    const { back } = told;
    return (
      <Notice role="status" words={told.words}>
        {back && (
          <Button onClick={() => void hand.bringBack(back, "brought back after an undo")}>
            Bring it back
          </Button>
        )}
        <Button onClick={hand.hush}>Good</Button>
      </Notice>
    );
  }
  return null;
}

function Notice({ role, words, children }: { role: "alert" | "status"; words: string; children: ReactNode }) {
  return (
    <div className="notice" role={role}>
      <span>{words}</span>
      {children}
    </div>
  );
}
