/** What is kept and cannot be read any more: said, exported as it is, and led back to the last sound state. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";
import { api, askAgain, data, words } from "../api/client";
import { terms } from "../terms/board";
import { Phrase } from "../terms/phrase";

export function Damaged() {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const damaged = useQuery({
    queryKey: ["damaged"],
    queryFn: () => data(api.GET("/api/v1/damaged")),
    staleTime: 60_000,
  });
  if (!damaged.data || damaged.data.length === 0) return null;
  async function back(rigId: string, base: number) {
    try {
      await data(
        api.POST("/api/v1/rigs/{rig_id}/undo", { params: { path: { rig_id: rigId } }, body: { base } }),
      );
      await client.invalidateQueries({ queryKey: ["damaged"] });
      askAgain(client, "board");
    } catch (error) {
      notification.error({ message: terms.itCouldNotBeLedBack, description: words(error) });
    }
  }
  return (
    <section className="damaged" aria-label={terms.damaged}>
      <p>
        <Phrase
          of={terms.strongNothingOfItIsTouched}
          with={{ strong: <strong>{terms.someOfWhatIsKeptCannot}</strong> }}
        />
      </p>
      <ul className="plain-list">
        {damaged.data.map((one) => (
          <li key={one.kind + one.id}>
            {one.kind} <strong>{one.name || one.id}</strong>: <span className="fault">{one.because}</span>{" "}
            <a href={`/api/v1/damaged/${one.kind}/${one.id}`} download>
              {terms.exportWhatIsThere}
            </a>{" "}
            {one.revision != null && one.revision > 1 && (
              <Button size="small" onClick={() => void back(one.id, one.revision ?? 0)}>
                {terms.backToTheRevisionBefore}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
