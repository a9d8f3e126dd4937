import { Button } from "antd";
import { useNavigate } from "react-router";
import type { RigInHand } from "./useRig";

/** What stands between the draft and the store: a change made elsewhere, a refusal, no server, a kept draft. */
export function SaveNotice({ hand }: { hand: RigInHand }) {
  const navigate = useNavigate();
  const { state, leftover } = hand;
  if (state.is === "stale") {
    return (
      <div className="notice" role="alert">
        <span>
          Another window or device saved revision {state.current} meanwhile. Yours is kept here; nothing was
          overwritten.
        </span>
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
      </div>
    );
  }
  if (state.is === "refused" || state.is === "unsaved") {
    return (
      <div className="notice" role="alert">
        <span>
          {state.is === "refused" ? "Not saved: " : ""}
          {state.because}
        </span>
        {state.is === "unsaved" && <Button onClick={() => hand.commit({}, "saved again")}>Save now</Button>}
        <Button onClick={() => void hand.takeTheirs()}>Back to what is saved</Button>
      </div>
    );
  }
  if (leftover) {
    return (
      <div className="notice" role="status">
        <span>A change made here earlier was not saved in time. It was kept.</span>
        <Button
          onClick={() => {
            hand.commit(leftover.rig, "kept change brought back");
          }}
        >
          Bring it back
        </Button>
        <Button onClick={hand.dropLeftover}>Let it go</Button>
      </div>
    );
  }
  return null;
}
