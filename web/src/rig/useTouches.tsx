/** Before a kept thing is changed in every rig that has it: which rigs those are, and what happens in each. */
import { App } from "antd";
import { useRef } from "react";
import type { Touched } from "../api/types";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import { ChangeTold } from "./ChangeTold";

/** Asks once at a time; true at once where no other rig is touched, undefined where the same is being asked already. */
export function useTouches(): (
  touched: Touched,
  rigId: string,
  what: string,
  go: string,
) => Promise<boolean | undefined> {
  const { modal } = App.useApp();
  const asking = useRef(false);
  return async (touched, rigId, what, go) => {
    const rigs = touched.rigs.filter((one) => one.rig_id !== rigId);
    const count = rigs.length + touched.more;
    if (count === 0) return true;
    // A field that is left because the question opens says its value a second time.
    if (asking.current) return undefined;
    asking.current = true;
    const others = count === 1 ? terms.oneOtherRig : phrase(terms.countOtherRigs, { count });
    const answer = modal.confirm({
      title: phrase(terms.whatChangesOthers, { what, others }),
      width: 560,
      icon: null,
      content: (
        <div className="touches">
          {rigs.map((rig) => (
            <section key={rig.rig_id} aria-label={rig.name}>
              <h3>{rig.name}</h3>
              <ChangeTold change={rig} />
            </section>
          ))}
          {touched.more > 0 && (
            <p>
              <Phrase of={terms.andMoreMore} with={{ more: touched.more }} />
            </p>
          )}
          <p className="quiet">{terms.eachGetsOneRevisionAndOne}</p>
        </div>
      ),
      okText: go,
      cancelText: common.leaveAllAsItIs,
    });
    return Promise.resolve(answer).finally(() => {
      asking.current = false;
    });
  };
}
