/** Before and after: a part of the shelf in place of one in the path, with and without the rings that make it fit. */
import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { api, dataAs, words } from "../api/client";
import type { Part, PatchOperation, Rig, SwapAnswer } from "../api/types";
import { Says } from "../kit/Says";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import { BeliefLine } from "./BeliefLine";
import { ChangeTold } from "./ChangeTold";

interface Props {
  rig: Rig;
  index: number;
  part: Part;
  onSwap: (change: PatchOperation[], note: string) => void;
  close: () => void;
}

export function SwapCompare({ rig, index, part, onSwap, close }: Props) {
  const answer = useQuery({
    queryKey: ["swap", index, part.id, rig],
    queryFn: () =>
      dataAs<SwapAnswer>(api.POST("/api/v1/spacing/swap", { body: { rig, index, part_id: part.id ?? "" } })),
  });
  const old = rig.path?.[index]?.part.name ?? "";
  const both = answer.data ? [answer.data.plain, answer.data.fitted].filter((one) => one != null) : [];
  return (
    <Modal
      open
      title={phrase(terms.partInPlaceOfOld, { part: part.name, old })}
      onCancel={close}
      footer={null}
      width={560}
    >
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      <BeliefLine belief={answer.data?.belief ?? undefined} />
      {both.map((one, i) => (
        <section key={one.label.text} className="swap-choice">
          {i === 1 && <h3>{terms.withTheRingsThatMakeIt}</h3>}
          {i === 1 && (
            <p className="quiet">
              <Says text={one.label} />.
            </p>
          )}
          <ChangeTold change={one} />
          <Button
            type={i === both.length - 1 ? "primary" : "default"}
            onClick={() => onSwap([...one.change], one.label.text)}
          >
            {i === 0 ? terms.swapItIn : terms.swapItInWithTheseRings}
          </Button>
        </section>
      ))}
    </Modal>
  );
}
