/** What is said of a planned night: what fits, what to mind, what hands do. */
import { Button } from "antd";
import type { TonightPlan } from "../api/types";
import { Mark } from "../kit/Mark";
import { Says } from "../kit/Says";
import { terms as common } from "../terms/common";
import { terms } from "../terms/running";
import "./timeLine.module.css";

export function NightLists({ plan, choose }: { plan: TonightPlan; choose: (day: string) => void }) {
  return (
    <div className="night-lists">
      <section>
        <h2>{common.whatFits}</h2>
        <ul data-testid="fits" className="plain-list">
          {plan.rigs.flatMap((rig) =>
            rig.fits.map((line) => (
              <li key={`${rig.rig_id} ${line.words.text}`}>
                <Mark verdict={line.verdict} size={12} /> <Says text={line.words} of="TonightLine.words" />{" "}
                {line.day && (
                  <Button size="small" type="link" onClick={() => line.day && choose(line.day)}>
                    {terms.goToThatNight}
                  </Button>
                )}
              </li>
            )),
          )}
        </ul>
      </section>
      <section>
        <h2>{terms.mind}</h2>
        <ul data-testid="mind" className="plain-list">
          {plan.rigs.flatMap((rig) =>
            rig.mind.map((line) => (
              <li key={`${rig.rig_id} ${line.words.text}`}>
                <Mark verdict={line.verdict} size={12} /> <Says text={line.words} of="TonightLine.words" />
              </li>
            )),
          )}
        </ul>
      </section>
      <section>
        <h2>{terms.whatHandsDo}</h2>
        <ul data-testid="hands" className="plain-list">
          {plan.jobs.map((job) => (
            <li key={`${job.slot} ${job.what.text}`}>
              <span className="num">{job.time}</span> <Says text={job.what} of="TonightEvent.what" />
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
