import type { Fault } from "../api/types";

/** What of a rig file nobody knows here, by its place in the file: the rest is whole. */
export function LeftOut({ faults }: { faults: readonly Fault[] }) {
  return (
    <>
      <p>The rest of the rig is whole. These fields would be left out:</p>
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
