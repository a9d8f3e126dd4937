import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { terms } from "../terms/about";
import { Phrase } from "../terms/phrase";

/** Version, licences, cautions. */
export default function About() {
  const about = useQuery({ queryKey: ["about"], queryFn: () => data(api.GET("/api/v1/about")) });
  return (
    <main className="plain-page">
      <h1>
        <Phrase of={terms.aboutDravelVersion} with={{ version: about.data?.version }} />
      </h1>
      <p>{terms.theWorkbenchWhereAnImagingRig}</p>
      <h2>{terms.licences}</h2>
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
      <h2>{terms.beforeYouGoOut}</h2>
      <ul>
        <li>{terms.neverPointOpticsNearTheSun}</li>
        <li>{terms.weightsFirstTelescopeSecondReverseWhen}</li>
        <li>{terms.mainsOutdoorsOnlyThroughAResidual}</li>
        <li>{terms.chargeFuseAndCarryLithiumBatteries}</li>
        <li>{terms.markCablesAndTripodLegsIn}</li>
      </ul>
      <p className="quiet">{terms.dravelInformsItDoesNotReplace}</p>
    </main>
  );
}
