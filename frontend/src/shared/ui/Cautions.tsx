/** What to mind with solvent, where it is named. */
export function SolventCaution() {
  return (
    <p className="caution">
      <strong>Solvent:</strong> fresh air, no flames, gloves, the lid closed; oily rags into a closed metal container. Its label,
      its data sheet and your local rules come first.
    </p>
  );
}
