/** The targets of a rig, one chosen. */
import type { ReactNode } from "react";
import type { Target } from "../api/types";
import { terms } from "../terms/kit";
import "./targetTabs.module.css";
import { commonName } from "./words";

export const keyOf = (target: Target) => target.id ?? target.name;

interface Props {
  targets: readonly Target[];
  chosen: Target | undefined;
  choose: (key: string) => void;
  children?: ReactNode;
}

export function TargetTabs({ targets, chosen, choose, children }: Props) {
  return (
    <div className="target-tabs" role="toolbar" aria-label={terms.targetsOfThisRig}>
      {targets.map((target) => (
        <button
          type="button"
          key={keyOf(target)}
          aria-pressed={target === chosen}
          onClick={() => choose(keyOf(target))}
        >
          {target.name} <span className="quiet">{commonName(target)}</span>
        </button>
      ))}
      {children}
    </div>
  );
}
