import { Tour } from "antd";

const at = (name: string) => () =>
  document.querySelector<HTMLElement>(`[data-tour="${name}"]`) as HTMLElement;

/** Two minutes with Magpie: what the page shows, and its first fault mended. */
export default function GuidedTour({ close }: { close: () => void }) {
  return (
    <Tour
      open
      onClose={close}
      onFinish={close}
      steps={[
        {
          title: "The light strip",
          description:
            "Magpie from the sky on the left to the sensor on the right, to scale. Click a part to see or swap it.",
          target: at("strip"),
        },
        {
          title: "Six numbers",
          description: "Each shows its formula, inputs and source when clicked.",
          target: at("numbers"),
        },
        {
          title: "The ledger",
          description:
            "Findings, worst first. A notched diamond breaks, a half-filled ring strains, a hollow ring holds.",
          target: at("ledger"),
        },
        {
          title: "A mend",
          description:
            "Buttons under a finding are changes that were tried and judged better. Close this and click the first one; Undo takes it back.",
          target: at("mend"),
        },
      ]}
    />
  );
}
