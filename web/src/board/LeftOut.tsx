import type { Fault } from "../api/types";
import { terms } from "../terms/board";

/** What of a rig file nobody knows here, by its place in the file: the rest is whole. */
export function LeftOut({ faults }: { faults: readonly Fault[] }) {
  return (
    <>
      <p>{terms.theRestOfTheRigIs}</p>
      <ul data-testid="left-out">
        {faults.map(({ field }) => (
          <li key={field}>
            <code>{field}</code>
          </li>
        ))}
      </ul>
    </>
  );
}
