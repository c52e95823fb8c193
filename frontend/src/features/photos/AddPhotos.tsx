import { useState } from "react";
import { asProblem } from "../../api/errors";
import type { SheetCard } from "../../shared/queries/sheets";
import { ProblemBox } from "../../shared/ui/Problem";
import { useAddPhotos } from "./queries";
import classes from "./page.module.css";

/** Photos chosen or dropped; several pages at once. */
export function AddPhotos({ sheet, onAdded }: { sheet: SheetCard; onAdded: (id: number) => void }) {
  const add = useAddPhotos(sheet.id);
  const [over, setOver] = useState(false);
  const send = (files: FileList | null) => {
    if (files === null || files.length === 0) return;
    add.mutate([...files], { onSuccess: ({ added }) => added[0] !== undefined && onAdded(added[0]) });
  };
  return (
    <section className={classes.add} data-over={over || undefined} aria-label="Add photos"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        send(event.dataTransfer.files);
      }}
    >
      <label className="button" data-strong>
        Add photos
        <input
          type="file"
          className="visually-hidden"
          data-main
          multiple
          accept="image/jpeg,image/png,image/tiff,image/heic,.jpg,.jpeg,.png,.tif,.tiff,.heic"
          onChange={(event) => {
            send(event.currentTarget.files);
            event.currentTarget.value = "";
          }}
        />
      </label>
      <span className="soft">or drop them here: JPEG, PNG, TIFF or HEIC, {sheet.pages === 1 ? "its one page" : `any of its ${sheet.pages} pages`}.</span>
      <p role="status">{add.isPending && "Sending…"}</p>
      {add.data?.refused.map(({ name, error }) => {
        const problem = asProblem(error);
        return <ProblemBox key={name} problem={{ ...problem, title: `${name}: ${problem.title.toLowerCase()}` }} />;
      })}
    </section>
  );
}
