import { useState } from "react";
import { Link, useParams } from "react-router";
import { useCollection } from "../../shared/queries/collection";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSheetCards, type SheetCard } from "../../shared/queries/sheets";
import { PhonePanel } from "../phones/PhonePanel";
import { AddPhotos } from "./AddPhotos";
import { PhotoList } from "./PhotoList";
import { Ramp } from "./Ramp";
import { Review } from "./Review";
import { SimulatedCamera } from "./SimulatedCamera";
import { usePhotos } from "./queries";
import classes from "./page.module.css";

/** The photos of one sheet: added, read, looked through, taken. */
export function PhotosPage() {
  const id = Number(useParams()["id"]) || 0;
  const { data: context } = useCollection();
  const { data: sheets, error } = useSheetCards();
  if (error !== null) return <Failed error={error} />;
  if (context === undefined || sheets === undefined) return <Loading what="the photos" />;
  const sheet = sheets.sheets.find((one) => one.id === id);
  if (sheet === undefined) {
    return (
      <div className={classes.gone}>
        <p>
          There is no sheet number {id} any more. <Link to="/swatches/sheets">All sheets</Link>
        </p>
      </div>
    );
  }
  return <Photos sheet={sheet} demo={context.demo ?? false} />;
}

function Photos({ sheet, demo }: { sheet: SheetCard; demo: boolean }) {
  const { data, error } = usePhotos(sheet.id);
  const [chosen, setChosen] = useState<number | null>(null);
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the photos" />;
  const shown = data.photos.find((photo) => photo.id === chosen) ?? data.photos[0];
  return (
    <div className={`beside ${classes.page ?? ""}`}>
      <div>
        <header>
          <p>
            <Link to="/swatches">Swatches</Link> / <Link to="/swatches/sheets">Sheets</Link> /
          </p>
          <h1>Photos of a sheet</h1>
          <p>
            {sheet.title}. Its code is <strong className="mono">{sheet.token}</strong>.
          </p>
        </header>
        <AddPhotos sheet={sheet} onAdded={setChosen} />
        {data.photos.length > 0 && <PhotoList photos={data.photos} shown={shown?.id} onChoose={setChosen} />}
        <PhonePanel />
        <Ramp key={JSON.stringify(sheet.ramp)} sheet={sheet} />
        {demo && <SimulatedCamera sheet={sheet} onAdded={setChosen} />}
      </div>
      <section aria-label="What was read">
        {shown === undefined ? <Advice /> : <Review key={`${shown.id} ${shown.state}`} card={shown} />}
      </section>
    </div>
  );
}

function Advice() {
  return (
    <div className={classes.advice}>
      <h2>A photo that can be measured</h2>
      <ul>
        <li>The whole page is in the picture, with all its square marks; nothing lies over them.</li>
        <li>By a window without sun, or under a bright lamp that stands at the side, so that nothing is mirrored in the wax.</li>
        <li>Neither your shadow nor the phone&apos;s lies on the page. No flash, no filter, no night or vivid mode.</li>
        <li>From straight above, as near as the page allows; tap on it to focus.</li>
      </ul>
      <p>
        A scan at 300 dpi does as well or better. Nothing is stored before you have looked through it. A photo does not tell
        pencils apart that lie within 2 to 3 ΔE00 of one another; a colour reader does, and what it measured is never
        written over.
      </p>
    </div>
  );
}
