import { useState } from "react";
import { useSearchParams } from "react-router";
import { asProblem } from "../../api/errors";
import type { Context } from "../../shared/queries/collection";
import { Dialog } from "../../shared/ui/Dialog";
import { Empty } from "../../shared/ui/Empty";
import { BeginDrawing, WithDrawing } from "../../shared/ui/WithDrawing";
import { Loading } from "../../shared/ui/Loading";
import { Failed, ProblemBox } from "../../shared/ui/Problem";
import { PhonePanel } from "../phones/PhonePanel";
import { usePhones } from "../phones/queries";
import { Desk } from "./Desk";
import { underWay, useAddReference, useReference, useReferences, useRemoveReference, type ReferenceCard } from "./queries";
import classes from "./page.module.css";

/** Station 3: the pictures of the drawing at hand, and which colours are in them. */
export function ReferencePage() {
  return (
    <WithDrawing empty={(context) => <NoDrawing context={context} />}>
      {(drawing, context) => <Pictures key={drawing.id} drawing={drawing} context={context} />}
    </WithDrawing>
  );
}

function NoDrawing({ context }: { context: Context }) {
  return (
    <Empty title="Which colours are in the picture?">
      <p>
        A photo is opened, its colours are picked or found, each is shown alone, and answered by the pencils that you own on
        the paper of your drawing. Pictures belong to a drawing, and none is at hand now.
      </p>
      <BeginDrawing context={context} />
    </Empty>
  );
}

function Pictures({ drawing, context }: { drawing: NonNullable<Context["drawing"]>; context: Context }) {
  const { data: phones } = usePhones();
  const { data, error } = useReferences(drawing.id, phones?.is_open ?? false);
  const [fromPhone, setFromPhone] = useState(false);
  const [asked, ask] = useSearchParams();
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the pictures" />;
  const shown = data.references.find((one) => String(one.id) === asked.get("picture")) ?? data.references[0];
  const choose = (id: number) => ask({ picture: String(id) });
  if (shown === undefined) {
    return (
      <Empty title={`A picture for ${drawing.name}`}>
        <p>
          Add the photo that you draw from. It stays on this machine and as it came: JPEG, PNG, TIFF, WebP or HEIC, up to 60
          megapixels.
        </p>
        <AddPicture drawing={drawing.id} onAdded={choose} main />
        <PhonePanel />
      </Empty>
    );
  }
  return (
    <div className={classes.page}>
      <header className={classes.head}>
        <h1>{drawing.name}</h1>
        <ul className={classes.pictures} aria-label="Pictures">
          {data.references.map((one) => (
            <li key={one.id}>
              <button type="button" className={classes.picture} aria-pressed={one === shown} onClick={() => choose(one.id)} title={one.name}>
                {one.state === "ready" ? (
                  <img src={`/api/references/${one.id}/thumbnail`} alt={one.name} data-hued="photo" className={classes.thumb} />
                ) : (
                  <span className={classes.unopened}>{one.name}</span>
                )}
              </button>
            </li>
          ))}
        </ul>
        <AddPicture drawing={drawing.id} onAdded={choose} />
        <button type="button" className="button" onClick={() => setFromPhone(true)}>
          From a phone
        </button>
        <Dialog opened={fromPhone} onClose={() => setFromPhone(false)} title="A picture from a phone">
          <PhonePanel />
        </Dialog>
        <Remove key={shown.id} card={shown} />
      </header>
      <Opened key={shown.id} card={shown} context={context} />
    </div>
  );
}

function Opened({ card, context }: { card: ReferenceCard; context: Context }) {
  const { data, error } = useReference(card);
  if (underWay(card)) {
    return (
      <p role="status" className={classes.note}>
        Opening {card.name} …
      </p>
    );
  }
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the picture" />;
  return (
    <>
      {card.state !== "ready" && (
        <div className={classes.note}>
          <ProblemBox problem={{ title: `${card.name} is not shown`, detail: card.message, status: 422 }} />
        </div>
      )}
      <Desk reference={data} context={context} />
    </>
  );
}

function AddPicture({ drawing, onAdded, main = false }: { drawing: number; onAdded: (id: number) => void; main?: boolean }) {
  const add = useAddReference(drawing);
  const [name, setName] = useState("");
  const send = (file: File | undefined) => {
    if (file === undefined) return;
    setName(file.name);
    add.mutate(file, { onSuccess: onAdded });
  };
  return (
    <div
      className={classes.add}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        send(event.dataTransfer.files[0]);
      }}
    >
      <label className="button" data-strong={main || undefined}>
        Add a picture
        <input
          type="file"
          className="visually-hidden"
          data-main={main || undefined}
          accept="image/jpeg,image/png,image/tiff,image/webp,image/heic,.jpg,.jpeg,.png,.tif,.tiff,.webp,.heic"
          onChange={(event) => {
            send(event.currentTarget.files?.[0]);
            event.currentTarget.value = "";
          }}
        />
      </label>
      <span role="status">{add.isPending && `Sending ${name} …`}</span>
      {add.error !== null && <ProblemBox problem={{ ...asProblem(add.error), title: `${name}: not taken` }} />}
    </div>
  );
}

function Remove({ card }: { card: ReferenceCard }) {
  const remove = useRemoveReference();
  const [asks, ask] = useState(false);
  const go = () => remove.mutate({ id: card.id, sure: true });
  return (
    <>
      <button type="button" className="button" onClick={() => (card.came_of.length > 0 ? ask(true) : go())} title="Remove this picture with its picks; undo brings it back">
        Remove
      </button>
      {remove.error !== null && <Failed error={remove.error} />}
      <Dialog opened={asks} onClose={() => ask(false)} title={`Remove ${card.name}?`}>
        <ul>
          {card.came_of.map((reason) => (
            <li key={reason}>{reason}.</li>
          ))}
        </ul>
        <p>What came of it stays; only the way back to the picture goes. Undo brings it back until the program ends.</p>
        <div className="row">
          <button type="button" className="button" data-strong onClick={go}>
            Remove it all the same
          </button>
          <button type="button" className="button" onClick={() => ask(false)}>
            Keep it
          </button>
        </div>
      </Dialog>
    </>
  );
}
