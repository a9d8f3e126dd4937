/** Who has which part tonight: what two rigs both need, what is borrowed, lent or not had. */
import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { Says } from "../kit/Says";
import { terms } from "../terms/tonight";

export function Hands({ rigs }: { rigs: readonly string[] }) {
  const told = useQuery({
    queryKey: ["hands", rigs],
    queryFn: () => data(api.POST("/api/v1/log/hands", { body: { rigs: [...rigs] } })),
  });
  if (!told.data || told.data.length === 0) return null;
  return (
    <section aria-label={terms.partsInOtherHands} className="tonight-ahead" data-testid="in-hands">
      <h2>{terms.partsToThinkOf}</h2>
      <ul className="plain-list">
        {told.data.map((one) => (
          <li key={one.part} className={one.double ? "fault" : undefined}>
            <Says text={one.words} />.
          </li>
        ))}
      </ul>
    </section>
  );
}
