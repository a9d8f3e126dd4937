import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";

/** Version, licences, cautions. */
export default function About() {
  const about = useQuery({ queryKey: ["about"], queryFn: () => data(api.GET("/api/v1/about")) });
  return (
    <main className="plain-page">
      <h1>About Dravel {about.data?.version}</h1>
      <p>
        The workbench where an imaging rig is designed and checked. All computation happens on this machine;
        nothing is sent anywhere.
      </p>
      <h2>Licences</h2>
      <table data-testid="plain-table" className="plain-table">
        <tbody>
          {about.data?.licences.map((row) => (
            <tr key={row.what}>
              <th scope="row">{row.what}</th>
              <td>{row.licence}</td>
              <td className="quiet">{row.note}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2>Before you go out</h2>
      <ul>
        <li>Never point optics near the sun without a full-aperture filter made for it.</li>
        <li>
          Weights first, telescope second; reverse when packing. Keep feet and fingers clear; lift heavy tubes
          in pairs.
        </li>
        <li>
          Mains outdoors only through a residual-current device and weatherproof connections, per local
          electrical code; leave fixed wiring to a licensed electrician.
        </li>
        <li>Charge, fuse and carry lithium batteries as their maker says.</li>
        <li>Mark cables and tripod legs in the dark; dress for cold; tell someone where you are.</li>
      </ul>
      <p className="quiet">Dravel informs; it does not replace local codes or licensed practice.</p>
    </main>
  );
}
