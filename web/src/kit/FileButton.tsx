import { Button } from "antd";
import { useRef } from "react";

interface Props {
  words: string;
  label: string;
  accept: string;
  loading?: boolean;
  onFile: (file: File) => void;
}

/** A button that asks for a file; the same file can be chosen twice in a row. */
export function FileButton({ words, label, accept, loading, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()} loading={loading ?? false}>
        {words}
      </Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        aria-label={label}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) onFile(chosen);
          event.target.value = "";
        }}
      />
    </>
  );
}
