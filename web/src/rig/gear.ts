/** Where a part that light does not pass through goes on a rig. */
import type { Part, Placed, Rig } from "../api/types";

export const GEAR_KINDS: Part["kind"][] = [
  "mount",
  "support",
  "counterweight",
  "rider",
  "guide_scope",
  "dew_heater",
  "power_source",
  "cable",
  "accessory",
];

type CarriedPart = Placed["part"];

/** The rig with a piece of gear added; null when the part belongs in the light path. */
export function withGear(rig: Rig, part: Part): Partial<Rig> | null {
  switch (part.kind) {
    case "mount":
      return { mount: part };
    case "support":
      return { support: part };
    case "counterweight": {
      const shaft = rig.mount?.shaft;
      const position_mm = shaft ? (shaft.start_mm + shaft.end_mm) / 2 : 200;
      return { counterweights: [...(rig.counterweights ?? []), { part, position_mm }] };
    }
    case "rider":
    case "guide_scope":
    case "dew_heater":
      return {
        riders: [
          ...(rig.riders ?? []),
          {
            part: part as CarriedPart,
            along_mm: 0,
            off_mm: part.kind === "dew_heater" ? 0 : 100,
            side: "top",
            off_at_night: false,
          },
        ],
      };
    case "power_source":
      return { supply: { ...(rig.supply ?? { cables: [] }), source: part } };
    case "cable":
      return { supply: { ...(rig.supply ?? {}), cables: [...(rig.supply?.cables ?? []), part] } };
    case "accessory":
      return { extras: [...(rig.extras ?? []), part] };
    default:
      return null;
  }
}
