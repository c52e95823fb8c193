import type { Schemas } from "../../api/client";

const NAMES: Record<string, string> = { A: "a filament lamp (A)", "LED-B3": "a white LED (LED-B3)" };

/** How two colours whose spectra were both measured part under lamp light; nothing where one was not. */
export function UnderLamps({ lamps }: { lamps: Schemas["LampsOut"] | null }) {
  if (lamps === null) return null;
  const each = lamps.lamps.map(({ lamp, delta_e }) => `${delta_e.toFixed(1)} under ${NAMES[lamp] ?? lamp}`);
  return (
    <p title="Both spectra were measured, so the two can be compared under other light too">
      <strong>{lamps.parts ? "Parts under lamp light" : "Holds under lamp light"}:</strong> ΔE {lamps.daylight.toFixed(1)} in daylight,{" "}
      {each.join(", ")}.
    </p>
  );
}
