/** Which cable carries what: a tree from the supply, each cable with where it is plugged in and what it feeds. */
import { Select } from "antd";
import type { PowerView, Rig } from "../../api/types";

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
      <h3>Cables</h3>
      <ul className="cable-tree">
        {view.cables.map((cable) => (
          <li key={cable.key} className={cable.behind ? "behind" : ""}>
            <strong>{cable.name}</strong> <span className="num quiet">{cable.words}</span>
            <div className="cable-run">
              <Select
                size="small"
                aria-label={`${cable.name} is plugged into`}
                value={cable.behind ?? AT_SUPPLY}
                onChange={(behind: string) =>
                  alter(cable.key, { behind: behind || null }, "cable plugged in")
                }
                options={[
                  { value: AT_SUPPLY, label: "at the supply" },
                  ...view.cables
                    .filter((one) => one.key !== cable.key)
                    .map((one) => ({ value: one.key, label: `behind the ${one.name}` })),
                ]}
              />
              <Select
                size="small"
                mode="multiple"
                aria-label={`${cable.name} feeds`}
                placeholder={
                  cable.carries.length > 0 ? `all the rest: ${cable.carries.length} parts` : "feeds…"
                }
                value={[...cable.feeds]}
                onChange={(feeds: string[]) => alter(cable.key, { feeds }, "cable feeds set")}
                options={view.consumers.map((one) => ({
                  value: one.key,
                  label: one.name,
                  disabled: taken(cable.key).has(one.key),
                }))}
              />
              <button
                type="button"
                className="plain-button"
                aria-label={`Take the ${cable.name} away`}
                onClick={() =>
                  set(
                    {
                      cables: (supply.cables ?? []).filter((one) => (one.id ?? one.name) !== cable.key),
                      runs: runs.filter((run) => run.cable !== cable.key),
                    },
                    `${cable.name} taken away`,
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
