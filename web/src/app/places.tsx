/** Addresses by the names users see; those of earlier versions still lead there. */
import { Navigate, useLocation, useParams } from "react-router";

/** Addresses of places as they were, and as they are. */
export const MOVED_PLACES = {
  "/begin": "/rig-finder",
  "/shelf": "/parts",
  "/stages": "/upgrade-path",
  "/practice": "/preferences",
  "/keep": "/backups",
  "/field": "/phone",
} as const;

/** Keys of steps whose address is another word. */
const SLUGS: Record<string, string> = {
  glass: "optics",
  load: "mount",
  guide: "guiding",
  expose: "exposure",
  build: "assembly",
  proof: "frames",
};
const KEYS = Object.fromEntries(Object.entries(SLUGS).map(([key, slug]) => [slug, key]));

/** A step's address under its rig. */
export const slugOf = (key: string): string => SLUGS[key] ?? key;
/** The key of a step by its address, old or new. */
export const stepOf = (slug: string): string => KEYS[slug] ?? slug;

/** Leads from an old address to the present one, with what was asked there. */
export function Moved({ to }: { to: string }) {
  const { search, hash } = useLocation();
  return <Navigate to={`${to}${search}${hash}`} replace />;
}

/** A rig's old step address. */
export function MovedStep({ step }: { step: string }) {
  const { rigId } = useParams();
  return <Moved to={`/rigs/${rigId}/${slugOf(step)}`} />;
}

export const OLD_STEPS = Object.keys(SLUGS);
