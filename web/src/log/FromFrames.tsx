/** Nights made of a rig's measured frames. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { App, Button, Dropdown } from "antd";
import { api, data, words } from "../api/client";
import { terms } from "../terms/log";
import { phrase } from "../terms/phrase";

export function FromFrames({ done, open }: { done: () => Promise<unknown>; open: (id: string) => void }) {
  const { notification } = App.useApp();
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const make = useMutation({
    mutationFn: (rig_id: string) => data(api.POST("/api/v1/sessions/from-frames", { body: { rig_id } })),
    onSuccess: async ({ sessions, told }) => {
      await done();
      const last = sessions[sessions.length - 1];
      if (last) open(last.id);
      notification.info({
        message:
          sessions.length === 0
            ? terms.noNightWasMade
            : phrase(terms.sessionsMadeFromFrames, { sessions: sessions.length }),
        description: told.map((one) => one.text).join("; ") || undefined,
      });
    },
    onError: (error) => notification.error({ message: terms.noNightWasMade, description: words(error) }),
  });
  return (
    <Dropdown
      trigger={["click"]}
      menu={{
        items: (rigs.data ?? []).map((rig) => ({ key: rig.id, label: rig.name })),
        onClick: ({ key }) => make.mutate(key),
      }}
    >
      <Button loading={make.isPending}>{terms.nightsFromFramesOf}</Button>
    </Dropdown>
  );
}
