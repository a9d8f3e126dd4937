import { Pagination } from "antd";
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
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
      showTotal={(total, [first, last]) =>
        phrase(terms.whatFirstToLastOfTotal, { what, first, last, total: total.toLocaleString("en") })
      }
      onChange={(page) => go((page - 1) * most)}
    />
  );
}
