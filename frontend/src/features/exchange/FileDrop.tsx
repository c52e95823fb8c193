import classes from "./page.module.css";

/** Where a file is chosen or dropped. */
export function FileDrop({ file, accept, onFile }: { file: File | null; accept: string; onFile: (file: File) => void }) {
  const take = (chosen: File | undefined) => {
    if (chosen !== undefined) onFile(chosen);
  };
  return (
    <label
      className={classes.drop}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        take(event.dataTransfer.files[0]);
      }}
    >
      <span className="button">Choose a file</span>
      <span className={classes.name}>{file === null ? "or drop it here" : file.name}</span>
      <input
        type="file"
        accept={accept}
        className="visually-hidden"
        data-main
        onChange={(event) => {
          take(event.currentTarget.files?.[0]);
          event.currentTarget.value = "";
        }}
      />
    </label>
  );
}
