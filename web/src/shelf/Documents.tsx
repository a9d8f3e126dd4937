/** A part's documents: test reports and spec sheets, kept with it and in every export. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, words } from "../api/client";
import { FileButton } from "../kit/FileButton";
import { keepPaper } from "../kit/papers";

const LARGEST = 20_000_000;

export function Documents({ part }: { part: string }) {
  const client = useQueryClient();
  const list = useQuery({
    queryKey: ["papers", part],
    queryFn: () =>
      data(api.GET("/api/v1/papers/of/{kind}/{of_id}", { params: { path: { kind: "part", of_id: part } } })),
  });
  const refresh = () => client.invalidateQueries({ queryKey: ["papers", part] });
  const add = useMutation({
    mutationFn: (file: File) => {
      if (file.size > LARGEST) throw new Error(`${file.name}: at most 20 MB are kept.`);
      return keepPaper("part", part, file);
    },
    onSuccess: refresh,
  });
  const away = (id: string) =>
    data(
      api.PUT("/api/v1/papers/{paper_id}/away", { params: { path: { paper_id: id } }, body: { away: true } }),
    ).then(refresh);
  return (
    <section className="documents" aria-label="Documents">
      <h2>Documents</h2>
      <ul className="plain-list">
        {list.data?.map((one) => (
          <li key={one.id}>
            <a href={`/api/v1/papers/${one.id}`} download={one.name}>
              {one.name}
            </a>{" "}
            <span className="quiet num">{Math.ceil(one.size / 1000)} kB</span>{" "}
            <button
              type="button"
              className="link"
              aria-label={`Put away ${one.name}`}
              onClick={() => void away(one.id)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <FileButton
        words="Add a document"
        label="Document of the part"
        accept="application/pdf,image/png"
        loading={add.isPending}
        onFile={(file) => add.mutate(file)}
      />
      <span className="quiet"> PDF or PNG, up to 20 MB</span>
      {(add.error ?? list.error) && (
        <p className="fault" role="alert">
          {words(add.error ?? list.error)}
        </p>
      )}
    </section>
  );
}
