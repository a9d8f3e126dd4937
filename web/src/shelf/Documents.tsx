/** A part's documents: test reports and spec sheets, kept with it and in every export. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, words } from "../api/client";
import { FileButton } from "../kit/FileButton";
import { keepPaper } from "../kit/papers";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/shelf";

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
      if (file.size > LARGEST) throw new Error(phrase(terms.fileAtMost20MbAre, { file: file.name }));
      return keepPaper("part", part, file);
    },
    onSuccess: refresh,
  });
  const away = (id: string) =>
    data(
      api.PUT("/api/v1/papers/{paper_id}/away", { params: { path: { paper_id: id } }, body: { away: true } }),
    ).then(refresh);
  return (
    <section className="documents" aria-label={terms.documents}>
      <h2>{terms.documents}</h2>
      <ul className="plain-list">
        {list.data?.map((one) => (
          <li key={one.id}>
            <a href={`/api/v1/papers/${one.id}`} download={one.name}>
              {one.name}
            </a>{" "}
            <span className="quiet num">
              <Phrase of={terms.oneKb} with={{ one: Math.ceil(one.size / 1000) }} />
            </span>{" "}
            <button
              type="button"
              className="link"
              aria-label={phrase(terms.putAwayName, { name: one.name })}
              onClick={() => void away(one.id)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <FileButton
        words={terms.addADocument}
        label={terms.documentOfThePart}
        accept="application/pdf,image/png"
        loading={add.isPending}
        onFile={(file) => add.mutate(file)}
      />
      <span className="quiet"> {terms.pdfOrPngUpTo20}</span>
      {(add.error ?? list.error) && (
        <p className="fault" role="alert">
          {words(add.error ?? list.error)}
        </p>
      )}
    </section>
  );
}
