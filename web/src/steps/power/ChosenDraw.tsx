/** What is chosen in the picture of the night's draw: how much, on which cable, and whether it stays. */

import { Button, Select } from "antd";
import { Link } from "react-router";
import type { PowerView, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/power";

interface Props {
  rig: Rig;
  view: PowerView;
  chosen: string;
  settle: (change: Partial<Rig>, note: string) => void;
  leave: () => void;
}

const AT_SUPPLY = "";

export function ChosenDraw({ rig, view, chosen, settle, leave }: Props) {
  const one = view.consumers.find((consumer) => consumer.key === chosen);
  if (!one) return null;
  const is = (part: { id?: string | null; name: string }) => (part.id ?? part.name) === one.key;
  const rider = (rig.riders ?? []).some(({ part }) => is(part));
  const extra = (rig.extras ?? []).some(is);
  const supply = rig.supply ?? {};
  const runs = supply.runs ?? [];
  const on = view.cables.find((cable) => cable.feeds.includes(one.key))?.key ?? AT_SUPPLY;
  const feed = (key: string) => {
    const without = runs.map((run) => ({
      ...run,
      feeds: (run.feeds ?? []).filter((part) => part !== one.key),
    }));
    const now = without.find((run) => run.cable === key) ?? { cable: key, behind: null, feeds: [] };
    const rest = without.filter((run) => run.cable !== key);
    const next = key === AT_SUPPLY ? without : [...rest, { ...now, feeds: [...now.feeds, one.key] }];
    settle({ supply: { ...supply, runs: next } }, phrase(terms.nameOnAnotherCable, { name: one.name }));
  };
  const takeOff = () => {
    leave();
    settle(
      {
        riders: (rig.riders ?? []).filter(({ part }) => !is(part)),
        extras: (rig.extras ?? []).filter((part) => !is(part)),
      },
      phrase(terms.nameTakenOff, { name: one.name }),
    );
  };
  return (
    <fieldset className="chosen-draw" data-testid="chosen-draw">
      <legend>{one.name}</legend>
      <p className="num">
        <Phrase
          of={terms.meanWWOnAveragePeak}
          with={{
            mean_w: <Num of="PowerConsumer.mean_w">{fixed(one.mean_w, 1)}</Num>,
            peak_w: <Num of="PowerConsumer.peak_w">{fixed(one.peak_w, 0)}</Num>,
            wh: <Num of="PowerConsumer.wh">{fixed(one.wh, 0)}</Num>,
            share: <Num of="PowerConsumer.share">{fixed(one.share * 100, 0)}</Num>,
          }}
        />
      </p>
      {one.note.text && (
        <p className="quiet">
          <Says text={one.note} />
        </p>
      )}
      {view.cables.length > 0 && (
        <label className="stacked">
          {terms.fedBy}
          <Select
            size="small"
            aria-label={phrase(terms.cableOfTheName, { name: one.name })}
            value={on}
            onChange={feed}
            options={[
              { value: AT_SUPPLY, label: terms.whateverIsFree },
              ...view.cables.map(({ key, name }) => ({ value: key, label: name })),
            ]}
          />
        </label>
      )}
      <div className="button-row">
        {(rider || extra) && (
          <Button
            size="small"
            aria-label={phrase(terms.takeTheNameOff, { name: one.name })}
            onClick={takeOff}
          >
            {terms.takeItOff}
          </Button>
        )}
        <Link to={`/parts?part=${encodeURIComponent(one.key)}`}>{terms.itsDrawOnTheShelf}</Link>
      </div>
    </fieldset>
  );
}
