/** Three numbers as programs write them: with points or decimal commas, parted by spaces, semicolons, tabs or commas. */
export function inThree(text: string): string[] | null {
  const plain = text.replaceAll("−", "-").trim();
  const parted = plain.split(/[\s;]+/).map((part) => part.replace(/,$/, "").replace(",", "."));
  const three = parted.length === 3 ? parted : plain.split(/[\s,;]+/);
  return three.length === 3 && three.every((part) => /^[-+]?\d+(\.\d+)?$/.test(part)) ? three : null;
}
