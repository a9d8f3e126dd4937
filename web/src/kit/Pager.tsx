import { Pagination } from "antd";
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
import type { PagesProps } from "./Pages";
import { fixed } from "./quantity";

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
      showTotal={(total, [first, last]) =>
        phrase(terms.whatFirstToLastOfTotal, { what, first, last, total: fixed(total, 0) })
      }
      onChange={(page) => go((page - 1) * most)}
    />
  );
}
