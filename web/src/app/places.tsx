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

/** What steps were called before. */
export const MOVED_STEPS: Record<string, string> = {
  glass: "optics",
  load: "mount",
  guide: "guiding",
  expose: "exposure",
  build: "assembly",
  proof: "frames",
};

/** Leads from an old address to the present one, with what was asked there. */
export function Moved({ to }: { to: string }) {
  const { search, hash } = useLocation();
  return <Navigate to={`${to}${search}${hash}`} replace />;
}

/** A rig's old step address. */
export function MovedStep({ step }: { step: string }) {
  const { rigId } = useParams();
  return <Moved to={`/rigs/${rigId}/${MOVED_STEPS[step]}`} />;
}
