import { Pagination } from "antd";
import type { PagesProps } from "./Pages";

/** The control of a list of several pages. */
export default function Pager({ what, from, most, of, go }: PagesProps) {
  return (
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
  );
}
