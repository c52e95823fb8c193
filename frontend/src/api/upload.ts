/** A file, and words beside it, as the browser packs them; the generated type of an upload is only its text, so that is what the
 * body looks like. Words that are empty are not sent. */
export function asUpload(file: File, said: Readonly<Record<string, string>> = {}) {
  const form = new FormData();
  form.append("file", file);
  for (const [name, words] of Object.entries(said)) if (words !== "") form.append(name, words);
  return { body: { file: "" }, bodySerializer: () => form };
}
