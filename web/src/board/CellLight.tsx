/** How much of the light wished of a target a rig has, as a thin ring; nothing where none was kept yet. */
import { Link } from "react-router";
import type { TargetLight } from "../api/types";
import { LightRing } from "../kit/LightRing";
import { hoursWords } from "../kit/quantity";
import { terms } from "../terms/board";
import { phrase } from "../terms/phrase";

interface Props {
  rig: string;
  target: string;
  lights: readonly TargetLight[] | undefined;
}

export function CellLight({ rig, target, lights }: Props) {
  const light = lights?.find((one) => one.rig_id === rig && one.target === target);
  if (!light || light.kept_s <= 0) return null;
  const words = phrase(terms.keptOf, {
    kept: hoursWords(light.kept_s / 3600),
    of: light.goal_s && phrase(terms.ofWishedS, { goal_s: hoursWords(light.goal_s / 3600) }),
  });
  return (
    <Link
      to="/log?view=light"
      className="cell-light"
      title={words}
      aria-label={phrase(terms.rigOnLightWords, { rig: light.rig, light: light.name, words })}
    >
      <LightRing share={light.share ?? 1} size={20} />
    </Link>
  );
}
