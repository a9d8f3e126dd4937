/** Before a kept thing is changed in every rig that has it: which rigs those are, and what happens in each. */
import { App } from "antd";
import { useRef } from "react";
import type { TouchedRig } from "../api/types";
import { ChangeTold } from "./ChangeTold";

/** Asks once at a time; true at once where no other rig is touched, undefined where the same is being asked already. */
export function useTouches(): (
  touched: readonly TouchedRig[],
  what: string,
  go: string,
) => Promise<boolean | undefined> {
  const { modal } = App.useApp();
  const asking = useRef(false);
  return async (touched, what, go) => {
    if (touched.length === 0) return true;
    // A field that is left because the question opens says its value a second time.
    if (asking.current) return undefined;
    asking.current = true;
    const others = touched.length === 1 ? "one other rig" : `${touched.length} other rigs`;
    const answer = modal.confirm({
      title: `${what} changes ${others}`,
      width: 560,
      icon: null,
      content: (
        <div className="touches">
          {touched.map((rig) => (
            <section key={rig.rig_id} aria-label={rig.name}>
              <h3>{rig.name}</h3>
              <ChangeTold change={rig} />
            </section>
          ))}
          <p className="quiet">Each gets one revision, and one undo takes it back there.</p>
        </div>
      ),
      okText: go,
      cancelText: "Leave all as it is",
    });
    return Promise.resolve(answer).finally(() => {
      asking.current = false;
    });
  };
}
