/** A name for this device, so that what two of them say can be told apart; and ids that are made here. */
import { onDevice } from "../kept/keeping";

const DEVICE = "device";

export function device(): string {
  const kept = onDevice.read(DEVICE);
  if (kept) return kept;
  const made = `device ${crypto.getRandomValues(new Uint16Array(1))[0]?.toString(36) ?? "1"}`;
  onDevice.write(DEVICE, made);
  return made;
}

/** An id that nobody else makes. Plain HTTP in a local network has no `crypto.randomUUID`. */
export const freshId = () =>
  [...crypto.getRandomValues(new Uint32Array(4))].map((one) => one.toString(16).padStart(8, "0")).join("");
