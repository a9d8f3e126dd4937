/** The page shows the data that are served: when others come in their place, it is drawn anew from those. */
import { useQueryClient } from "@tanstack/react-query";
import { Fragment, type ReactNode, useEffect } from "react";
import { DATA, onOtherData } from "../api/client";
import { otherDataCame } from "../kept/KeptNotices";
import { dataShown, show, useDataShown } from "../kept/keeping";

// The first answer says whose data these are before anything is drawn from them.
onOtherData((id) => dataShown() || show(id));

export function DataServed({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const id = useDataShown();
  useEffect(() => {
    let asking = false;
    return onOtherData(async (served) => {
      if (asking || served === dataShown()) return;
      asking = true;
      try {
        // Answers overtake one another: which data are served now is asked once more.
        const now = (await fetch("/api/v1/access")).headers.get(DATA);
        if (!now || now === dataShown()) return;
        client.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "access" });
        otherDataCame();
        show(now);
      } catch {
        // The next answer says it again.
      } finally {
        asking = false;
      }
    });
  }, [client]);
  return <Fragment key={id}>{children}</Fragment>;
}
