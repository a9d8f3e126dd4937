/** A night typed in a minute: rig, evening, subs; conditions, marks and people where they are known. Typed things stay. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { EveningChoice } from "../api/types";
import { useChosenNight } from "../app/night";
import { ofData, parsed } from "../kept/keeping";
import { ClockInput } from "../kit/ClockInput";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { blank, filled, made, type NewNight } from "./draft";
import { NightFields, useOfRig } from "./NightFields";

const KEY = "typed-night";

interface Props {
  night: string;
  done: (id: string) => Promise<unknown>;
  close: () => void;
}

export function TypeNight({ night, done, close }: Props) {
  const [box] = useState(ofData);
  const { night: ofAll } = useChosenNight();
  const [draft, setDraft] = useState<NewNight>(() => {
    const start = blank(night || ofAll || "");
    const left = parsed<Partial<NewNight>>(box.read(KEY));
    return left ? { ...start, ...left, ...(night ? { night } : {}) } : start;
  });
  const put = (next: NewNight) => {
    setDraft(next);
    box.write(KEY, JSON.stringify(next));
  };
  const evening = useQuery({
    queryKey: ["evening", null],
    queryFn: () => data(api.GET("/api/v1/sky/evening", {})) as Promise<EveningChoice>,
  });
  const { rigId, rig, targets } = useOfRig(draft.rig);
  const day = draft.night || evening.data?.tonight;
  const keep = useMutation({
    mutationFn: () => {
      const whole = { ...draft, subs: filled(draft.subs, targets[0], rig?.guide?.sub_s) };
      return data(
        api.POST("/api/v1/sessions", {
          headers: { "Idempotency-Key": draft.key } as never,
          body: made(whole, rigId ?? "", day ?? "") as never,
        }),
      );
    },
    onSuccess: async (kept) => {
      box.forget(KEY);
      await done(kept.id);
    },
  });
  return (
    <form
      className="type-night"
      aria-label={terms.typeANight}
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <NightFields draft={draft} put={put} ofRig={false}>
        <ClockInput
          title={common.from}
          label={terms.fromOnTheSitesClock}
          value={draft.from}
          onChange={(from) => put({ ...draft, from })}
        />
        <ClockInput
          title={terms.until}
          label={terms.untilOnTheSitesClock}
          value={draft.until}
          onChange={(until) => put({ ...draft, until })}
        />
      </NightFields>
      {keep.error && (
        <p className="fault" role="alert">
          {words(keep.error)}
        </p>
      )}
      <div className="button-row">
        <Button type="primary" htmlType="submit" loading={keep.isPending} disabled={!rigId || !day}>
          {terms.keepThisNight}
        </Button>
        <Button onClick={close}>{terms.laterWhatIsTypedStays}</Button>
        <Button
          onClick={() => {
            box.forget(KEY);
            setDraft(blank(night));
          }}
        >
          {common.clear}
        </Button>
      </div>
    </form>
  );
}
