/** How this rig framed the target before: one press takes such a framing up again, exactly. */
import { useQuery } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import type { Framing, Target } from "../../api/types";
import { Says } from "../../kit/Says";
import { terms } from "../../terms/aim";
import { Phrase, phrase } from "../../terms/phrase";

export const earlierOf = (rigId: string, target: Target) =>
  data(
    api.GET("/api/v1/rigs/{rig_id}/earlier-framings", {
      params: { path: { rig_id: rigId }, query: { target: target.id ?? target.name } },
    }),
  );

interface Props {
  rigId: string;
  target: Target;
  onPick: (framing: Partial<Framing>, note: string) => void;
}

export function EarlierFramings({ rigId, target, onPick }: Props) {
  const { data: found = [] } = useQuery({
    queryKey: ["earlier", rigId, target.id ?? target.name],
    queryFn: () => earlierOf(rigId, target),
  });
  if (found.length === 0) return null;
  return (
    <details className="earlier">
      <summary>
        <Phrase of={terms.earlierFramingsFound} with={{ found: found.length }} />
      </summary>
      {found.map(({ revision, saved_at, words, framing }) => (
        <button
          type="button"
          className="plain-button"
          data-testid="earlier-framing"
          key={revision}
          onClick={() => {
            const { target: _, night: __, ...lies } = framing;
            onPick(lies, phrase(terms.framedAsInRevisionRevision, { revision }));
          }}
        >
          <Says text={words} still />
          <span className="quiet">
            {" "}
            <Phrase
              of={terms.revisionRevisionX}
              with={{
                revision,
                x: new Date(saved_at).toLocaleDateString("en-GB", { day: "numeric", month: "short" }),
              }}
            />
          </span>
        </button>
      ))}
    </details>
  );
}
