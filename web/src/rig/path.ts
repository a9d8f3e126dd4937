/** Where a part goes when it is laid: convenience of the hand, no rule of the job. */

import type { Part, PathItem, PathPart, Rig } from "../api/types";
import { fixed } from "../kit/quantity";
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
  return unnamed ? { ...next, name: namedBy(next) ?? "New rig" } : next;
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
  telescope: "telescope or lens",
  focuser: "focuser",
  corrector: "corrector",
  adapter: "ring or adapter",
  filter_holder: "filter holder",
  filter: "filter",
  off_axis_guider: "off-axis guider",
  camera: "camera",
  mount: "mount",
  support: "tripod or pier",
  counterweight: "counterweight",
  rider: "rider",
  guide_scope: "guide scope",
  dew_heater: "dew heater",
  power_source: "supply",
  cable: "cable",
  accessory: "accessory",
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
      return `${part.focal_length_mm} mm, ${part.design.replaceAll("_", " ")}, circle ${part.image_circle_mm ?? "?"} mm`;
    case "corrector":
      return `${part.role.replace("_", " ")} ×${part.factor}, back focus ${part.back_focus_mm ?? "?"} mm`;
    case "camera":
      return `${part.sensor.width_px} × ${part.sensor.height_px}, ${part.sensor.pixel_um} µm, ${part.sensor.colour === "mono" ? "mono" : "colour"}`;
    case "filter":
      return `${part.use.replaceAll("_", " ")}, ${part.size}`;
    case "filter_holder":
      return `${part.style.replace("_", " ")}, ${part.optical_length_mm ?? "?"} mm`;
    case "mount":
      return `${part.style.replaceAll("_", " ")}, ${part.payload_kg} kg`;
    case "support":
      return `${part.style ?? "tripod"}, ${part.height_mm} mm high, carries ${part.capacity_kg ?? "?"} kg`;
    case "counterweight":
      return `${fixed((part.mass_g ?? 0) / 1000, 1)} kg, bore ${part.bore_mm ?? "?"} mm`;
    case "guide_scope":
      return `${part.aperture_mm} mm, ${part.focal_length_mm} mm`;
    case "dew_heater":
      return `up to ${part.aperture_mm} mm, ${part.power?.typical_w ?? "?"} W`;
    case "power_source":
      return part.mains
        ? `mains, ${part.max_a ?? "?"} A`
        : `${part.energy_wh ?? "?"} Wh, ${part.max_a ?? "?"} A`;
    case "cable":
      return `${part.length_mm / 1000} m, ${part.conductor_mm2 ?? "?"} mm²`;
    case "accessory":
      return part.function.replaceAll("_", " ");
    case "rider":
      return `${part.mass_g ?? "?"} g${part.power ? `, ${part.power.typical_w} W` : ""}`;
    default:
      return `${part.optical_length_mm ?? "?"} mm, ${part.sky_side?.size ?? "?"} → ${part.sensor_side?.size ?? "?"}`;
  }
}
