/** Pictures of sessions and documents of parts go to the server as they are. */
import { DATA, data, heard } from "../api/client";
import type { PaperShown } from "../api/types";
import { dataShown } from "../kept/keeping";

export function keepPaper(kind: "session" | "part", id: string, file: File): Promise<PaperShown> {
  const url = `/api/v1/papers/of/${kind}/${encodeURIComponent(id)}?name=${encodeURIComponent(file.name.slice(0, 200))}`;
  const send = async () => {
    const response = await fetch(url, { method: "POST", body: file, headers: { [DATA]: dataShown() } });
    heard(response);
    const answer = await response.json().catch(() => ({}));
    return response.ok ? { data: answer as PaperShown, response } : { error: answer, response };
  };
  return data(send());
}
