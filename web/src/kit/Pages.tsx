/** A long list a page at a time; nothing where one page holds it all. */
import { Pagination } from "antd";

interface Props {
  what: string;
  from: number;
  most: number;
  of: number;
  go: (from: number) => void;
}

export function Pages({ what, from, most, of, go }: Props) {
  if (of <= most) return null;
  return (
    <nav className="pages" aria-label={`Pages of ${what}`}>
      <Pagination
        simple
        size="small"
        showSizeChanger={false}
        current={Math.floor(from / most) + 1}
        pageSize={most}
        total={of}
        showTotal={(total, [first, last]) => `${what} ${first} to ${last} of ${total.toLocaleString("en")}`}
        onChange={(page) => go((page - 1) * most)}
      />
    </nav>
  );
}
