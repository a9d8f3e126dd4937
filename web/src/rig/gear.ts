/** Where a part that light does not pass through goes on a rig. */
import type { Part, PathPart, Placed, Rig } from "../api/types";

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

/** How it is guided once something to guide with is there; what was chosen before stays. */
export function guidedBy(rig: Rig, method: "guide_scope" | "off_axis"): Partial<Rig> {
  const guide = rig.guide ?? {};
  return guide.method && guide.method !== "none" ? {} : { guide: { ...guide, method } };
}

/** The rig with a camera that guides: behind the guide scope that rides along, else on the off-axis guider's branch. */
export function withGuideCamera(rig: Rig, camera: PathPart): Partial<Rig> {
  const scope = (rig.riders ?? []).some((placed) => placed.part.kind === "guide_scope");
  const branch = (rig.guide?.branch ?? []).filter((entry) => entry.part.kind !== "camera");
  const laid = {
    ...rig,
    guide: { ...rig.guide, branch: [...branch, { part: camera, filters: [], prism_in_mm: 0 }] },
  };
  const offAxis = (rig.path ?? []).some((entry) => entry.part.kind === "off_axis_guider");
  return {
    guide: laid.guide,
    ...(scope || offAxis ? guidedBy(laid, offAxis ? "off_axis" : "guide_scope") : {}),
  };
}

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
        ...(part.kind === "guide_scope" ? guidedBy(rig, "guide_scope") : {}),
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
