/** A kept night changed: nothing is written down here before something changed, and nothing is put over what was not seen. */
import { Button } from "antd";
import { words } from "../api/client";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Clashes } from "./Clashes";
import { isChanged } from "./draft";
import { NightFields } from "./NightFields";
import type { SessionInHand } from "./useChange";

export function ChangeNight({ hand, close }: { hand: SessionInHand; close: () => void }) {
  const { change, draft, saving, hold, drop } = hand;
  return (
    <form
      className="type-night"
      aria-label={terms.changeThisNight}
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
          {terms.saveChanges}
        </Button>
        <Button data-testid="close" onClick={close}>
          {common.close}
        </Button>
        {isChanged(change) && <Button onClick={drop}>{terms.discardChanges}</Button>}
      </div>
    </form>
  );
}
