/** The request as it is typed, kept in the browser, and the words its choices go by. */

import { useCallback, useState } from "react";
import type { DesignAsked } from "../api/types";
import { ofData, parsed } from "../kept/keeping";
import { fixed } from "../kit/quantity";
import { terms } from "../terms/begin";

export type RigRequest = Partial<DesignAsked>;
export type About = NonNullable<RigRequest["about"]>;
export type Goal = "fit" | "money" | "mass" | "speed" | "ease";

export const ABOUT: readonly (readonly [About, string])[] = [
  ["galaxies_in_spring", terms.galaxiesInSpring],
  ["wide_nebulae", terms.wideNebulae],
  ["planets", terms.moonAndPlanets],
  ["a_bit_of_all", terms.aBitOfAll],
  ["list", terms.myList],
];
export const NOT_WANTED: readonly (readonly [NonNullable<RigRequest["not_wanted"]>[number], string])[] = [
  ["computer", terms.aComputerInTheField],
  ["guiding", "guiding"],
  ["off_axis", terms.anOffAxisGuider],
  ["collimation", terms.mirrorsToCollimate],
  ["mono", terms.aMonoCamera],
  ["colour", terms.aColourCamera],
  ["counterweights", "counterweights"],
  ["alt_azimuth", terms.anAltAzimuthMount],
];
export const FIRST_RIG = ["mono", "collimation", "off_axis"] as const;
export const GOALS: readonly (readonly [Goal, string])[] = [
  ["fit", "fit"],
  ["money", "money"],
  ["mass", "mass"],
  ["speed", "speed"],
  ["ease", "ease"],
];
export const START: RigRequest = { about: "a_bit_of_all", money: 1800, trips: 2 };
const KEY = "request";

const remembered = (): RigRequest => ({ ...START, ...parsed<RigRequest>(ofData().read(KEY)) });

/** The request, which stays as it was typed when the page is opened again. `about` may come with the address. */
export function useRequest(about: string | null): [RigRequest, (change: Partial<RigRequest>) => void] {
  const [request, setRequest] = useState<RigRequest>(() => {
    const known = ABOUT.find(([key]) => key === about);
    return known ? { ...remembered(), about: known[0] } : remembered();
  });
  const change = useCallback(
    (part: Partial<RigRequest>) =>
      setRequest((now) => {
        const next = { ...now, ...part };
        ofData().write(KEY, JSON.stringify(next));
        return next;
      }),
    [],
  );
  return [request, change];
}

export const moneyOf = (amount: number, currency = "EUR") => `${fixed(amount, 0)} ${currency}`;
