/** Where a part goes when it is laid: convenience of the hand, no rule of the job. */

import type { Part, PathItem, PathPart, Rig } from "../api/types";
import { fixed } from "../kit/quantity";
import { terms as common } from "../terms/common";
import { terms } from "../terms/parts";
import { phrase } from "../terms/phrase";
import { GEAR_KINDS } from "./gear";

export const item = (part: PathPart): PathItem => ({
  part,
  filters: [],
  in_use: null,
  set_length_mm: null,
  faces_deg: null,
  prism_in_mm: 0,
  assembly: null,
});

/** The path with a part laid: telescopes and cameras replace theirs, a corrector goes behind the telescope. */
export function laid(rig: Rig, part: Part, at?: number): PathItem[] {
  const path = [...(rig.path ?? [])];
  if (part.kind === "filter") {
    const holder = path.findIndex((entry) => entry.part.kind === "filter_holder");
    const entry = path[holder];
    if (!entry) return path;
    path[holder] = {
      ...entry,
      filters: [...(entry.filters ?? []), part],
      in_use: entry.filters?.length ?? 0,
    };
    return path;
  }
  if (!inTheLight(part)) return path;
  const same = path.findIndex((entry) => entry.part.kind === part.kind);
  if ((part.kind === "telescope" || part.kind === "camera" || part.kind === "focuser") && same >= 0) {
    path[same] = item(part);
    return path;
  }
  if (part.kind === "telescope") return [item(part), ...path];
  const camera = path.findIndex((entry) => entry.part.kind === "camera");
  const behindTelescope = path.findIndex((entry) => entry.part.kind === "telescope") + 1;
  const place =
    at ??
    (part.kind === "corrector" || part.kind === "focuser"
      ? behindTelescope
      : camera >= 0
        ? camera
        : path.length);
  path.splice(place, 0, item(part));
  return path;
}

/** A name for a rig nobody has named yet, by what it looks through and with; null while it has neither. */
export function namedBy(rig: Rig): string | null {
  const of = (kind: Part["kind"]) =>
    rig.path?.find((entry) => entry.part.kind === kind)?.part.name.split(",")[0];
  const [telescope, camera] = [of("telescope"), of("camera")];
  return telescope && camera ? `${telescope}, ${camera}`.slice(0, 120) : (telescope ?? camera ?? null);
}

/** The path of a rig changed, and its name with it as long as nobody has named it. */
export function repathed(rig: Rig, path: PathItem[]): Rig {
  const unnamed = rig.name === "New rig" || rig.name === namedBy(rig);
  const next = { ...rig, path };
  return unnamed ? { ...next, name: namedBy(next) ?? common.newRig } : next;
}

const BESIDE: ReadonlySet<Part["kind"]> = new Set(["filter", ...GEAR_KINDS]);

/** Whether light passes through a part: filters sit in holders, gear stands beside the path. */
export const inTheLight = (part: Part): part is PathPart => !BESIDE.has(part.kind);

export function movedItem(path: PathItem[], from: number, to: number): PathItem[] {
  const next = [...path];
  const [taken] = next.splice(from, 1);
  if (taken) next.splice(Math.max(0, Math.min(to, next.length)), 0, taken);
  return next;
}

const KINDS: Record<Part["kind"], string> = {
  telescope: terms.telescopeOrLens,
  focuser: terms.focuser,
  corrector: terms.corrector,
  adapter: terms.ringOrAdapter,
  filter_holder: terms.filterHolder,
  filter: common.filter,
  off_axis_guider: common.offAxisGuider,
  camera: terms.camera,
  mount: terms.mount,
  support: terms.tripodOrPier,
  counterweight: terms.counterweight,
  rider: terms.rider,
  guide_scope: common.guideScope,
  dew_heater: terms.dewHeater,
  power_source: terms.supply,
  cable: terms.cable,
  accessory: terms.accessory,
};

/** All kinds, in the order of the light and then of the work. */
export const ALL_KINDS = Object.keys(KINDS) as Part["kind"][];

export const kindName = (kind: Part["kind"]): string => KINDS[kind];

/** The path with an assembly laid ahead of the camera, or in the camera's place when it brings one. */
export function assembled(path: PathItem[], items: readonly PathItem[], assembly: string): PathItem[] {
  const tagged = items.map((entry) => ({ ...entry, assembly }));
  const brings = new Set(items.map((entry) => entry.part.kind));
  const left = path.filter(
    (entry) => entry.assembly !== assembly && !(entry.part.kind === "camera" && brings.has("camera")),
  );
  const camera = left.findIndex((entry) => entry.part.kind === "camera");
  left.splice(camera >= 0 ? camera : left.length, 0, ...tagged);
  return left;
}

/** The one line by which a part is told from its neighbours. */
export function inShort(part: Part): string {
  switch (part.kind) {
    case "telescope":
      return phrase(terms.focalLengthMmMmDesignCircle, {
        focal_length_mm: part.focal_length_mm,
        design: part.design.replaceAll("_", " "),
        image_circle_mm: part.image_circle_mm ?? "?",
      });
    case "corrector":
      return phrase(terms.roleFactorBackFocusBackFocus, {
        role: part.role.replace("_", " "),
        factor: part.factor,
        back_focus_mm: part.back_focus_mm ?? "?",
      });
    case "camera":
      return `${part.sensor.width_px} × ${part.sensor.height_px}, ${part.sensor.pixel_um} µm, ${part.sensor.colour === "mono" ? "mono" : "colour"}`;
    case "filter":
      return `${part.use.replaceAll("_", " ")}, ${part.size}`;
    case "filter_holder":
      return `${part.style.replace("_", " ")}, ${part.optical_length_mm ?? "?"} mm`;
    case "mount":
      return `${part.style.replaceAll("_", " ")}, ${part.payload_kg} kg`;
    case "support":
      return phrase(terms.styleHeightMmMmHighCarries, {
        style: part.style ?? "tripod",
        height_mm: part.height_mm,
        capacity_kg: part.capacity_kg ?? "?",
      });
    case "counterweight":
      return phrase(terms.massGKgBoreBoreMm, {
        mass_g: fixed((part.mass_g ?? 0) / 1000, 1),
        bore_mm: part.bore_mm ?? "?",
      });
    case "guide_scope":
      return phrase(terms.apertureMmMmFocalLengthMm, {
        aperture_mm: part.aperture_mm,
        focal_length_mm: part.focal_length_mm,
      });
    case "dew_heater":
      return phrase(terms.upToApertureMmMmTypical, {
        aperture_mm: part.aperture_mm,
        typical_w: part.power?.typical_w ?? "?",
      });
    case "power_source":
      return part.mains
        ? phrase(terms.mainsMaxAA, { max_a: part.max_a ?? "?" })
        : phrase(terms.energyWhWhMaxAA, { energy_wh: part.energy_wh ?? "?", max_a: part.max_a ?? "?" });
    case "cable":
      return phrase(terms.lengthMmMConductorMm2Mm, {
        length_mm: part.length_mm / 1000,
        conductor_mm2: part.conductor_mm2 ?? "?",
      });
    case "accessory":
      return part.function.replaceAll("_", " ");
    case "rider":
      return `${part.mass_g ?? "?"} g${part.power ? `, ${part.power.typical_w} W` : ""}`;
    default:
      return phrase(terms.opticalLengthMmMmSkySide, {
        optical_length_mm: part.optical_length_mm ?? "?",
        sky_side: part.sky_side?.size ?? "?",
        sensor_side: part.sensor_side?.size ?? "?",
      });
  }
}
