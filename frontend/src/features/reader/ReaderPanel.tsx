import { useState } from "react";
import { Check, Choice, Field } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import type { Paper } from "../../shared/queries/collection";
import { ColourFinder } from "../../shared/ui/Finder";
import { useCalibrate, useConnect, useDisconnect, useFault, useFollow, useReader, useStartSimulated, useUnder, type Fault, type Reader } from "./queries";
import classes from "./ReaderPanel.module.css";
import { useKeys } from "../../shared/keys";

const FAULTS: readonly (readonly [Fault, string])[] = [
  ["not-calibrated", "forgets its calibration"],
  ["calibration-old", "calibration too old"],
  ["lamp-low", "lamp too weak"],
  ["battery-low", "battery low"],
  ["lifted", "lifted too early"],
  ["silent", "does not answer"],
  ["garbage", "sends garbage"],
  ["lost", "connection lost half-way"],
];

/** The colour reader at the right of whatever reads with it. */
export function ReaderPanel({ paper }: { paper: Paper }) {
  const { data: reader } = useReader();
  const calibrate = useCalibrate();
  const disconnect = useDisconnect();
  useKeys({ c: () => reader?.connected && calibrate.mutate() });
  if (reader === undefined) return <aside className={`side-panel ${classes.panel ?? ""}`} aria-label="Colour reader" />;
  return (
    <aside className={`side-panel ${classes.panel ?? ""}`} aria-label="Colour reader">
      <h2>Colour reader</h2>
      {reader.connected ? (
        <>
          <Connected reader={reader} />
          <div className="row">
            <button type="button" className="button" disabled={calibrate.isPending} onClick={() => calibrate.mutate()}>
              Calibrate <kbd>c</kbd>
            </button>
            <button type="button" className="button" onClick={() => disconnect.mutate()}>
              Let go
            </button>
          </div>
          {calibrate.error !== null && <Failed error={calibrate.error} />}
          {reader.info?.simulated && <Simulated reader={reader} paper={paper} />}
        </>
      ) : (
        <Connect />
      )}
    </aside>
  );
}

function Connected({ reader }: { reader: Reader }) {
  const { info, status } = reader;
  return (
    <>
      <p>
        <strong>{info?.model}</strong> {info?.serial}, aperture {info?.aperture_mm} mm
      </p>
      {status && (
        <p>
          {status.calibrated ? `Calibrated; ${status.readings_since} ${status.readings_since === 1 ? "reading" : "readings"} since.` : "Not calibrated: put it on its white tile."}{" "}
          Battery {Math.round(status.battery * 100)} %.
        </p>
      )}
      {reader.problem !== "" && <p role="alert">⚠ {reader.problem}</p>}
    </>
  );
}

function Connect() {
  const [port, setPort] = useState("");
  const start = useStartSimulated();
  const connect = useConnect();
  return (
    <>
      <p>None is connected. A reader is reached through a port on this machine; docs/colour-reader.md says how.</p>
      <button type="button" className="button" data-strong disabled={start.isPending} onClick={() => start.mutate()}>
        Start the simulated reader
      </button>
      <form
        className={classes.connect}
        onSubmit={(event) => {
          event.preventDefault();
          connect.mutate(Number(port));
        }}
      >
        <div className="form">
          <Field label="Port of a reader" type="number" min={1} max={65535} value={port} onChange={setPort} required />
        </div>
        <button type="submit" className="button" disabled={connect.isPending}>
          Connect
        </button>
      </form>
      {start.error !== null && <Failed error={start.error} />}
      {connect.error !== null && <Failed error={connect.error} />}
    </>
  );
}

/** What lies under a simulated reader, and how it shall fail. */
function Simulated({ reader, paper }: { reader: Reader; paper: Paper }) {
  const [pressure, setPressure] = useState<"light" | "medium" | "heavy">("heavy");
  const [layers, setLayers] = useState("1");
  const [black, setBlack] = useState(false);
  const [fault, setFault] = useState<Fault>("lifted");
  const under = useUnder();
  const follow = useFollow();
  const fail = useFault();
  const lay = (colour_id: number | null) =>
    under.mutate({ colour_id, paper_id: paper.id, pressure, layers: Number(layers) || 1, over_black: black });
  return (
    <section className={classes.simulated}>
      <h3>Under the simulated reader</h3>
      <p aria-live="polite">{reader.follows ? "whatever is asked for" : reader.under_it || "nothing yet"}</p>
      <div className="form">
        <Check label="Follow what is asked for" value={reader.follows} onChange={(follows) => follow.mutate(follows)} />
      </div>
      <p className="soft">Or put something else under it, on {paper.name}:</p>
      <div className={`form ${classes.under ?? ""}`}>
        <Choice
          label="Pressure"
          value={pressure}
          options={[["light", "light"], ["medium", "medium"], ["heavy", "heavy"]]}
          onChange={setPressure}
        />
        <Field label="Layers" type="number" min={1} max={12} value={layers} onChange={setLayers} />
        <Check label="Over the black bar" value={black} onChange={setBlack} />
      </div>
      <ColourFinder label="Pencil to put under the reader" placeholder="Find the pencil" onPick={(colour) => lay(colour.id)} />
      <button type="button" className="button" onClick={() => lay(null)}>
        Bare paper
      </button>
      {under.error !== null && <Failed error={under.error} />}
      <div className={`form ${classes.under ?? ""}`}>
        <Choice label="At the next reading it" value={fault} options={FAULTS} onChange={setFault} />
        <button type="button" className="button" disabled={fail.isPending} onClick={() => fail.mutate(fault)}>
          Let it fail
        </button>
      </div>
      {fail.error !== null && <Failed error={fail.error} />}
    </section>
  );
}
