/** A file as the browser packs it; the generated type of an upload is only its text, so that is what the body looks like. */
export function asUpload(file: File) {
  const form = new FormData();
  form.append("file", file);
  return { body: { file: "" }, bodySerializer: () => form };
}
