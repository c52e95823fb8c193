import { useSessionStorage } from "@mantine/hooks";
import type { Wish } from "./queries";
import classes from "./WishBar.module.css";
import { useShelves } from "../../shared/queries/shelves";

export interface Kept {
  asked: Wish;
  onePencil: boolean;
  choosing: boolean;
}

const NOTHING_LEFT_OUT: Kept = { asked: { noBlack: false, lasting: false, ranges: [] }, onePencil: false, choosing: false };

/** What is left out, kept from call to call. */
export function useWish() {
  return useSessionStorage<Kept>({ key: "layered-wish", defaultValue: NOTHING_LEFT_OUT, getInitialValueInEffect: false });
}

/** Which pencils may be used: only what is at hand ever is. */
export function WishBar({ wish, paper, onChange }: { wish: Kept; paper: number; onChange: (wish: Kept) => void }) {
  const { asked } = wish;
  const set = (part: Partial<Wish>) => onChange({ ...wish, asked: { ...asked, ...part } });
  return (
    <fieldset className={classes.wish}>
      <legend className="visually-hidden">Which pencils may be used</legend>
      <Tick name="one pencil only" on={wish.onePencil} onChange={(onePencil) => onChange({ ...wish, onePencil })} />
      <Tick name="no black" on={asked.noBlack} onChange={(noBlack) => set({ noBlack })} />
      <Tick name="lightfast (I, II)" on={asked.lasting} onChange={(lasting) => set({ lasting })} />
      <Tick name="some ranges only" on={wish.choosing} onChange={(choosing) => onChange({ ...wish, choosing, asked: { ...asked, ranges: [] } })} />
      {wish.choosing && <Ranges chosen={asked.ranges} paper={paper} onChange={(ranges) => set({ ranges })} />}
    </fieldset>
  );
}

function Ranges({ chosen, paper, onChange }: { chosen: readonly number[]; paper: number; onChange: (ranges: readonly number[]) => void }) {
  const { data: tidy } = useShelves(paper);
  return (
    <div className={classes.ranges}>
      {tidy?.shelves.map(({ range_id: id, name }) => (
        <Tick
          key={id}
          name={name}
          on={chosen.includes(id)}
          onChange={(on) => onChange(on ? [...chosen, id] : chosen.filter((other) => other !== id))}
        />
      ))}
    </div>
  );
}

function Tick({ name, on, onChange }: { name: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className={classes.tick}>
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.currentTarget.checked)} />
      {name}
    </label>
  );
}
