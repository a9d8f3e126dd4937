/** The Night step: this rig's own night on the time line; runs are slid by hand and the rest is planned around them. */

import { Button } from "antd";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, dataAs } from "../../api/client";
import type { TonightPlan } from "../../api/types";
import { useChosenNight } from "../../app/night";
import { Says } from "../../kit/Says";
import { useDrawn } from "../../rig/useDrawn";
import { NightLists } from "../../running/NightLists";
import { TimeLine } from "../../running/TimeLine";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/night";
import type { StepProps } from "../step";

export default function Night({ rig }: StepProps) {
  const { night, choose } = useChosenNight();
  const [pins, setPins] = useState<Record<string, number>>({});
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was put by hand belongs to one night
  useEffect(() => setPins({}), [night]);
  const { view, fault } = useDrawn(
    rig,
    (given) => dataAs<TonightPlan>(api.POST("/api/v1/tonight/rig", { body: { rig: given, night, pins } })),
    pins,
  );
  return (
    <div className="night-step">
      <div className="gear-line">
        <p className="quiet">
          {view && (
            <>
              {view.site}: <Says text={view.words} of="TonightPlan.words" />
            </>
          )}
        </p>
        {Object.keys(pins).length > 0 && <Button onClick={() => setPins({})}>{common.planAllAnew}</Button>}
        <Link className="link" to="/tonight">
          {terms.tonightWithOtherRigsFreeHours}
        </Link>
      </div>
      {fault && <p className="fault">{fault}</p>}
      {view && (
        <>
          <TimeLine
            plan={view}
            width={820}
            pin={({ target, slot }) => setPins((now) => ({ ...now, [target]: slot }))}
          />
          <NightLists plan={view} choose={choose} />
        </>
      )}
    </div>
  );
}
