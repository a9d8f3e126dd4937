/** A kept night changed: nothing is written down here before something changed, and nothing is put over what was not seen. */
import { Button } from "antd";
import { words } from "../api/client";
import { Clashes } from "./Clashes";
import { isChanged } from "./draft";
import { NightFields } from "./NightFields";
import type { SessionInHand } from "./useChange";

export function ChangeNight({ hand, close }: { hand: SessionInHand; close: () => void }) {
  const { change, draft, saving, hold, drop } = hand;
  return (
    <form
      className="type-night"
      aria-label="Change this night"
      onSubmit={(event) => {
        event.preventDefault();
        saving.mutate(undefined, { onSuccess: close });
      }}
    >
      <NightFields draft={draft} put={hold} ofRig />
      <Clashes hand={hand} />
      {saving.error && (
        <p className="fault" role="alert">
          {words(saving.error)}
        </p>
      )}
      <div className="button-row">
        <Button
          type="primary"
          htmlType="submit"
          data-testid="save"
          loading={saving.isPending}
          disabled={!isChanged(change) || change.clashes.length > 0}
        >
          Save changes
        </Button>
        <Button data-testid="close" onClick={close}>
          Close
        </Button>
        {isChanged(change) && <Button onClick={drop}>Discard changes</Button>}
      </div>
    </form>
  );
}
