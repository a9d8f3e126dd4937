/** Kept things of one kind side by side, as tabs. */
interface Props {
  label: string;
  entries: readonly { id: string; body: { name: string } }[] | undefined;
  chosen: string | undefined;
  choose: (id: string) => void;
}

export function KeptTabs({ label, entries, chosen, choose }: Props) {
  return (
    <div className="site-tabs" role="toolbar" aria-label={label}>
      {entries?.map((one) => (
        <button type="button" key={one.id} aria-pressed={one.id === chosen} onClick={() => choose(one.id)}>
          {one.body.name}
        </button>
      ))}
    </div>
  );
}
