/** The way to the field view on a phone: its address as a QR code, or how to let a phone in. */
import { useQuery } from "@tanstack/react-query";
import { Modal } from "antd";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/tonight";

export function OnPhone({ close }: { close: () => void }) {
  const found = useQuery({
    queryKey: ["field-address"],
    queryFn: () => data(api.GET("/api/v1/field-address")),
  });
  const told = found.data;
  return (
    <Modal open title={terms.theNightOnAPhone} onCancel={close} footer={null} width={420}>
      <div className="on-phone">
        {told?.svg && (
          // The code is drawn by the server, from its own address alone.
          // biome-ignore lint/security/noDangerouslySetInnerHtml: own drawing, no text of anybody's
          <div className="qr" dangerouslySetInnerHTML={{ __html: told.svg }} />
        )}
        {told?.address && (
          <p>
            <Phrase
              of={terms.inTheSameNetworkAddressThe}
              with={{ address: <a href={told.address}>{told.address}</a> }}
            />
          </p>
        )}
        {told?.because && <p>{told.because}</p>}
        {found.error && <p className="fault">{words(found.error)}</p>}
        <p>
          <Link to="/phone">{terms.openItOnThisDevice}</Link>
        </p>
      </div>
    </Modal>
  );
}
