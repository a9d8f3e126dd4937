/** What is to be known of what this browser keeps: that it keeps nothing, or that other data came. */
import { useSyncExternalStore } from "react";
import { terms as common } from "../terms/common";
import { terms } from "../terms/kept";
import { Phrase } from "../terms/phrase";
import { leftBehind, type Trouble, useDataShown, useTrouble } from "./keeping";
import "./kept.module.css";

const WORDS: Record<Trouble, string> = {
  full: terms.browserStorageFullUnsavedInputIs,
  forbidden: terms.browserStorageBlockedUnsavedInputIs,
};

let came = false;
const listeners = new Set<() => void>();
function say(now: boolean) {
  came = now;
  for (const listener of listeners) listener();
}
/** Other data are about to be shown: it is said on the pages of those. */
export const otherDataCame = () => say(true);
const listen = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

export function KeptNotices() {
  const trouble = useTrouble();
  const other = useSyncExternalStore(listen, () => came);
  useDataShown();
  if (!trouble && !other) return null;
  const left = other ? leftBehind().length : 0;
  return (
    <div className="kept-notices" role="status">
      {trouble && (
        <p className="fault" data-testid={`keeps-${trouble}`}>
          {WORDS[trouble]}
        </p>
      )}
      {other && (
        <p data-testid="other-data">
          {terms.dataChangedABackupWasRestored}{" "}
          {left > 0 && (
            <>
              <Phrase
                of={terms.unsavedInputForThePreviousData}
                with={{ a: <a href="/backups">{common.backupsAndExport}</a> }}
              />{" "}
            </>
          )}
          <button type="button" className="link" onClick={() => say(false)}>
            {terms.gotIt}
          </button>
        </p>
      )}
    </div>
  );
}
