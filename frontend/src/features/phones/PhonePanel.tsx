import { Failed } from "../../shared/ui/Problem";
import { usePhones, usePhonesStep, useSendAway, type Phones } from "./queries";
import classes from "./phones.module.css";

/** A phone let in to send photos: shut at first; open, how it comes in and who is in. */
export function PhonePanel() {
  const { data: phones, error } = usePhones();
  const step = usePhonesStep();
  if (error !== null) return <Failed error={error} />;
  if (phones === undefined) return null;
  return (
    <section className={classes.panel} aria-label="Your phone">
      <h2>Your phone</h2>
      {phones.is_open ? (
        <Open phones={phones} />
      ) : (
        <>
          <p className="soft">
            It photographs and sends at once. This opens the program to your local network for an hour, for phones that you
            pair; they may send photos of sheets and pictures to draw from, and see how far their photos are, nothing else.
          </p>
          <button type="button" className="button" disabled={step.isPending} onClick={() => step.mutate("open")}>
            Let a phone in
          </button>
        </>
      )}
      {step.error !== null && <Failed error={step.error} />}
    </section>
  );
}

function Open({ phones }: { phones: Phones }) {
  const step = usePhonesStep();
  const away = useSendAway();
  const { qr } = phones;
  return (
    <>
      {qr && (
        <svg viewBox={`-2 -2 ${qr.size + 4} ${qr.size + 4}`} className={classes.qr} role="img" aria-label={`QR code of ${phones.address}`}>
          <rect x={-2} y={-2} width={qr.size + 4} height={qr.size + 4} fill="#f2f2f2" />
          <path d={qr.path} fill="#1a1a1a" />
        </svg>
      )}
      <p>
        Scan this, or go to <span className="mono">{phones.address}</span>, and write the code:
      </p>
      <p className={`mono ${classes.code ?? ""}`} aria-label="Code">
        {phones.tries_left > 0 ? `${phones.code.slice(0, 3)} ${phones.code.slice(3)}` : "tried too often"}
      </p>
      <p className="soft">It is good for one phone. Your network sees what is sent; at home that is you.</p>
      {phones.phones.length > 0 && (
        <ul className={classes.phones} aria-label="Paired phones">
          {phones.phones.map((phone) => (
            <li key={phone.id}>
              {phone.name}
              <button type="button" className="button" disabled={away.isPending} onClick={() => away.mutate(phone.id)} aria-label={`Send ${phone.name} away`}>
                Send away
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="row">
        <button type="button" className="button" disabled={step.isPending} onClick={() => step.mutate("close")}>
          Shut phones out
        </button>
        <button type="button" className="button" disabled={step.isPending} onClick={() => step.mutate("code")}>
          A new code
        </button>
      </div>
      {step.error !== null && <Failed error={step.error} />}
    </>
  );
}

/** In the shell while phones may come in: for how long, and a way to shut them out. */
export function PhonesOpen() {
  const { data: phones } = usePhones();
  const step = usePhonesStep();
  if (phones?.is_open !== true) return null;
  const minutes = Math.ceil(phones.seconds_left / 60);
  return (
    <span className={classes.open}>
      <span>
        {phones.phones.length === 0 ? "A phone may come in" : phones.phones.length === 1 ? "1 phone is in" : `${phones.phones.length} phones are in`}, {minutes} min
      </span>
      <button type="button" className="button" onClick={() => step.mutate("close")}>
        Shut out
      </button>
    </span>
  );
}
