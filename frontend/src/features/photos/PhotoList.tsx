import { underWay, type PhotoCard } from "./queries";
import classes from "./page.module.css";

/** The photos of a sheet, each with how far it is. */
export function PhotoList({ photos, shown, onChoose }: { photos: readonly PhotoCard[]; shown: number | undefined; onChoose: (id: number) => void }) {
  return (
    <section>
      <h2>{photos.length === 1 ? "1 photo" : `${photos.length} photos`}</h2>
      <ul className={classes.photos} aria-label="Photos of this sheet">
        {photos.map((photo) => (
          <li key={photo.id}>
            <button type="button" className={classes.photo} aria-pressed={photo.id === shown} onClick={() => onChoose(photo.id)}>
              <span>{photo.name}</span>
              <span className="soft">{saidOf(photo)}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How far a photo is, in few words. */
export function saidOf(photo: PhotoCard): string {
  if (underWay(photo)) return photo.state === "waiting" ? "Waits for its turn" : `${photo.step || "Being read"}…`;
  if (photo.state === "refused") return "Not readable";
  if (photo.state === "stopped") return "Stopped";
  const left = photo.clean + photo.doubtful - photo.taken;
  if (photo.taken > 0) return left > 0 ? `Page ${photo.page ?? 1}: ${photo.taken} taken, ${left} left` : `Page ${photo.page ?? 1}: ${photo.taken} taken`;
  const looks = photo.doubtful > 0 ? `, ${photo.doubtful} to look at` : "";
  const empty = photo.empty > 0 ? `, ${photo.empty} empty` : "";
  return `Page ${photo.page ?? 1}: ${photo.clean} clean${looks}${empty}`;
}
