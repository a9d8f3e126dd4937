/** Which cable carries what: a tree from the supply, each cable with where it is plugged in and what it feeds. */
import { Select } from "antd";
import type { PowerView, Rig } from "../../api/types";
import { Says } from "../../kit/Says";
import { phrase } from "../../terms/phrase";
import { terms } from "../../terms/power";

type Supply = NonNullable<Rig["supply"]>;

interface Props {
  view: PowerView;
  supply: Supply;
  set: (change: Partial<Supply>, note: string) => void;
}

const AT_SUPPLY = "";

export function Cables({ view, supply, set }: Props) {
  if (view.cables.length === 0) return null;
  const runs = supply.runs ?? [];
  const alter = (cable: string, change: { behind?: string | null; feeds?: string[] }, note: string) => {
    const now = runs.find((run) => run.cable === cable) ?? { cable, behind: null, feeds: [] };
    set({ runs: [...runs.filter((run) => run.cable !== cable), { ...now, ...change }] }, note);
  };
  const taken = (cable: string) =>
    new Set(view.cables.filter((one) => one.key !== cable).flatMap((one) => one.feeds));
  return (
    <section>
      <h3>{terms.cables}</h3>
      <ul className="cable-tree">
        {view.cables.map((cable) => (
          <li key={cable.key} className={cable.behind ? "behind" : ""}>
            <strong>{cable.name}</strong>{" "}
            <span className="num quiet">
              <Says text={cable.words} />
            </span>
            <div className="cable-run">
              <Select
                size="small"
                aria-label={phrase(terms.cableIsPluggedInto, { cable: cable.name })}
                value={cable.behind ?? AT_SUPPLY}
                onChange={(behind: string) =>
                  alter(cable.key, { behind: behind || null }, terms.cablePluggedIn)
                }
                options={[
                  { value: AT_SUPPLY, label: terms.atTheSupply },
                  ...view.cables
                    .filter((one) => one.key !== cable.key)
                    .map((one) => ({
                      value: one.key,
                      label: phrase(terms.behindTheName, { name: one.name }),
                    })),
                ]}
              />
              <Select
                size="small"
                mode="multiple"
                aria-label={phrase(terms.cableFeeds, { cable: cable.name })}
                placeholder={
                  cable.carries.length > 0
                    ? phrase(terms.allTheRestCarriesParts, { carries: cable.carries.length })
                    : terms.feeds
                }
                value={[...cable.feeds]}
                onChange={(feeds: string[]) => alter(cable.key, { feeds }, terms.cableFeedsSet)}
                options={view.consumers.map((one) => ({
                  value: one.key,
                  label: one.name,
                  disabled: taken(cable.key).has(one.key),
                }))}
              />
              <button
                type="button"
                className="plain-button"
                aria-label={phrase(terms.takeTheCableAway, { cable: cable.name })}
                onClick={() =>
                  set(
                    {
                      cables: (supply.cables ?? []).filter((one) => (one.id ?? one.name) !== cable.key),
                      runs: runs.filter((run) => run.cable !== cable.key),
                    },
                    phrase(terms.cableTakenAway, { cable: cable.name }),
                  )
                }
              >
                ×
              </button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
